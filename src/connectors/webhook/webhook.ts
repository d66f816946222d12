import { randomBytes } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { failureOf, StepFailure, type Failure } from '@/core/resilience/failure';
import { expectOk, request } from '../http/exchange';

/** What the receiver made of it. `gone`: it never wants to hear of anything again (410). */
export type Hearing = { readonly heard: true } | { readonly heard: false; readonly gone: boolean; readonly failure: Failure };

/** A new secret as Standard Webhooks writes them: 32 random bytes. */
export const newWebhookSecret = (): string => `whsec_${randomBytes(32).toString('base64')}`;

/** Why a secret cannot sign, in a sentence; null when it can. Standard Webhooks, "Signature scheme": 24 to 64 bytes in Base64. */
export function secretProblem(secret: string): string | null {
  const bytes = Buffer.from(secret.replace(/^whsec_/, ''), 'base64').length;
  if (!/^whsec_[A-Za-z0-9+/]+={0,2}$/.test(secret)) return 'A secret of a webhook begins with “whsec_” and goes on in Base64.';
  return bytes < 24 || bytes > 64 ? `A secret of a webhook has 24 to 64 bytes; this one has ${bytes}.` : null;
}

/**
 * Tell one event, signed. The id stays the same at every attempt, so that the receiver can pass over what it knows; the time is that
 * of the attempt, so that nobody can play an old one again. Source: Standard Webhooks 1.0.0.
 */
export async function tellOne({ url, secret, id, payload, at }: { readonly url: string; readonly secret: string; readonly id: string; readonly payload: string; readonly at: Date }): Promise<Hearing> {
  const headers = { 'content-type': 'application/cloudevents+json; charset=utf-8', 'webhook-id': id, 'webhook-timestamp': String(Math.floor(at.getTime() / 1000)), 'webhook-signature': new Webhook(secret).sign(id, at, payload) };
  try {
    const answer = await request(url, { method: 'POST', headers, body: payload }, url);
    if (answer.status === 410) return { heard: false, gone: true, failure: new StepFailure('service-refused', `${url} does not want to be told any more (410)`).failure };
    await expectOk(answer, url);
    // What it says does not matter; read to the end, so that the connection can be used again.
    await answer.arrayBuffer().catch(() => undefined);
    return { heard: true };
  } catch (error) {
    return { heard: false, gone: false, failure: failureOf(error) };
  }
}
