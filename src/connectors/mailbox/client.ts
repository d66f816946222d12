import { ImapFlow } from 'imapflow';
import { SOURCE_LIMITS } from '../limits';
import type { Arrival, Several } from '../source';
import { arrivalFrom } from './message';

export interface MailboxSettings {
  readonly host: string;
  readonly port: number;
  readonly secure: boolean;
  readonly user: string;
  /** Folder that is watched. */
  readonly folder: string;
  /** Mails that come without an attachment: reported as having nothing to read, or read themselves. */
  readonly bodies: 'report' | 'read';
  /** What becomes of several attachments; asked when the mail is received. */
  readonly several?: Several;
  /** What happens to a mail that was taken: marked as read, or moved. It is never deleted. */
  readonly after: 'mark as read' | 'move';
  readonly moveTo: string;
  /** Seconds between looks when the server does not announce new mail by itself. */
  readonly pollSeconds: number;
}

export function clientFor(settings: MailboxSettings, secret: string | null): ImapFlow {
  const client = new ImapFlow({ host: settings.host, port: settings.port, secure: settings.secure, auth: { user: settings.user, pass: secret ?? '' }, logger: false, connectionTimeout: 15_000, socketTimeout: 90_000, maxIdleTime: settings.pollSeconds * 1000 });
  // Without a listener a lost connection would end the process; the watch notices by the commands that fail.
  client.on('error', () => undefined);
  return client;
}

export async function ensureFolder(client: ImapFlow, folder: string): Promise<void> {
  const folders = await client.list();
  if (!folders.some((known) => known.path === folder)) await client.mailboxCreate(folder);
}

/** It is not the mail server's fault: what arrived could not be kept here. */
class NotRecorded extends Error {
  override readonly name = 'NotRecorded';
  constructor(cause: unknown) {
    super(`A mail could not be recorded and stays in the mailbox (${(cause as Error).message.slice(0, 150)}).`, { cause });
  }
}

/** False when the mail was gone before it could be fetched. */
export async function takeOne(client: ImapFlow, settings: MailboxSettings, { uid, size }: { readonly uid: number; readonly size: number }, emit: (arrival: Arrival) => Promise<void>): Promise<boolean> {
  const tooLarge = size > SOURCE_LIMITS.mailBytes;
  const message = await client.fetchOne(String(uid), tooLarge ? { headers: true } : { source: true }, { uid: true });
  const raw = message === false ? undefined : tooLarge ? message.headers : message.source;
  if (!raw) return false;
  const arrival = await arrivalFrom(raw, { uid, folder: settings.folder }, settings.bodies);
  const problem = { code: 'too-large', text: `The mail has ${(size / 1_000_000).toFixed(1)} MB; up to ${SOURCE_LIMITS.mailBytes / 1_000_000} MB are taken. It stays in the mailbox; only its head is kept here.` };
  await emit(tooLarge ? { ...arrival, problem } : arrival).catch((error: unknown) => Promise.reject(new NotRecorded(error)));
  return true;
}

export async function markTaken(client: ImapFlow, settings: MailboxSettings, uid: number): Promise<void> {
  if (settings.after === 'move') await client.messageMove(String(uid), settings.moveTo, { uid: true });
  else await client.messageFlagsAdd(String(uid), ['\\Seen'], { uid: true });
}

export function plainTrouble(settings: MailboxSettings, error: unknown): string {
  const { code, authenticationFailed, responseText, message } = error as { code?: string; authenticationFailed?: boolean; responseText?: string; message?: string };
  if (error instanceof NotRecorded) return error.message;
  const where = `${settings.host}:${settings.port}`;
  if (authenticationFailed) return `The mail server ${where} refuses user ${settings.user} with this password.`;
  if (code === 'ECONNREFUSED') return `Nothing answers at ${where}; is the mail server running there?`;
  if (code === 'ENOTFOUND') return `There is no server named ${settings.host}.`;
  if (code?.startsWith('CERT_') || code?.includes('SELF_SIGNED')) return `The certificate of ${where} is not trusted (${code}).`;
  return `The mail server ${where} stopped answering (${(responseText ?? code ?? message ?? 'no reason given').slice(0, 150)}).`;
}
