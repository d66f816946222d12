import Joi from 'joi';
import type { Connector } from '../connection';
import { StepFailure } from '@/core/resilience/failure';
import type { ArrivedFile } from '../source';
import { download } from './download';
import { expectOk, request, textOf } from './exchange';
import { operationsIn } from './operations';

/** How a secret goes along. */
const SENT_AS = ['bearer', 'header', 'basic', 'none'] as const;

export interface HttpSettings {
  readonly url: string;
  readonly auth: (typeof SENT_AS)[number];
  /** Name of the header for `header`, name of the user for `basic`. */
  readonly authName: string;
  /** A path that answers when all is well; asked when the connection is tried. */
  readonly checkPath: string;
  /** The application keeps Idempotency-Key: the same request sent twice is done once. */
  readonly keepsKeys: boolean;
}

/** One request, made up. */
export interface PreparedRequest {
  readonly method: string;
  /** Below the address, with its query. */
  readonly path: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: string | FormData | Uint8Array<ArrayBuffer> | null;
}

const baseOf = ({ url }: HttpSettings): string => url.replace(/\/+$/, '');

/** The headers that carry the secret. */
function credentials({ auth, authName }: HttpSettings, secret: string | null): Record<string, string> {
  if (secret === null || secret === '') return {};
  switch (auth) {
    case 'bearer':
      return { authorization: `Bearer ${secret}` };
    case 'header':
      return { [authName || 'x-api-key']: secret };
    case 'basic':
      return { authorization: `Basic ${Buffer.from(`${authName}:${secret}`).toString('base64')}` };
    case 'none':
      return {};
  }
}

/** Send a request; the answer as data where it is JSON, else as text, and null where there is none. Throws a {@link StepFailure}. */
export async function exchange(settings: HttpSettings, secret: string | null, prepared: PreparedRequest, about?: string): Promise<unknown> {
  const base = baseOf(settings);
  const response = await request(`${base}${prepared.path}`, { method: prepared.method, body: prepared.body, headers: { accept: 'application/json', ...prepared.headers, ...credentials(settings, secret) } }, base);
  const text = await textOf(await expectOk(response, base, about), base);
  if (text === '') return null;
  try {
    return JSON.parse(text);
  } catch (error) {
    // What calls itself JSON and is none was broken on the way: nobody can tell whether the thing was done.
    if (/\bjson\b/.test(response.headers.get('content-type') ?? '')) throw new StepFailure('service-down', `${base} (the answer is broken JSON)`, { cause: error });
    return text;
  }
}

/** Fetch a file below the address of a connection. */
export const fetchFile = (settings: HttpSettings, secret: string | null, path: string, about?: string): Promise<ArrivedFile> => download(`${baseOf(settings)}${path}`, credentials(settings, secret), { base: baseOf(settings), ...(about === undefined ? {} : { about }) });

export const httpConnector: Connector<HttpSettings> = {
  key: 'http',
  name: 'Application or service (HTTP)',
  secretName: 'Key or password',
  schema: Joi.object({
    url: Joi.string().uri({ scheme: ['http', 'https'] }).max(500).required().label('Address'),
    auth: Joi.string().valid(...SENT_AS).default('bearer').label('The key goes as'),
    authName: Joi.string().allow('').max(100).pattern(/^[\w!#$%&'*+.^`|~@ -]*$/).default('').label('Header or user name'),
    checkPath: Joi.string().max(500).pattern(/^\//).default('/').label('Path to try'),
    keepsKeys: Joi.boolean().default(true).label('Keeps idempotency keys'),
  }),
  async tryOut(settings, secret) {
    const begun = performance.now();
    const answer = await exchange(settings, secret, { method: 'GET', path: settings.checkPath, headers: {}, body: null });
    const operations = operationsIn(answer);
    const name = (answer as { info?: { title?: string } } | null)?.info?.title;
    return { found: `${baseOf(settings)} answers${name ? ` as ${name}` : ''}, in ${Math.round(performance.now() - begun)} ms${operations.length > 0 ? `, and describes ${operations.length} operations` : ''}.`, offers: { operations } };
  },
};
