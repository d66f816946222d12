import { ImapFlow, type MailboxLockObject } from 'imapflow';
import Joi from 'joi';
import { pause } from '@/settings/clock';
import { SOURCE_LIMITS } from '../limits';
import type { SourceConnector, Watch } from '../source';
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
  /** What happens to a mail that was taken: marked as read, or moved. It is never deleted. */
  readonly after: 'mark as read' | 'move';
  readonly moveTo: string;
  /** Seconds between looks when the server does not announce new mail by itself. */
  readonly pollSeconds: number;
}

/** Where reading got to: numbers are valid only together with the mailbox's UIDVALIDITY (RFC 9051, 2.3.1.1). */
interface MailCursor {
  readonly uidValidity: string;
  readonly lastUid: number;
}

const schema = Joi.object<MailboxSettings>({
  host: Joi.string().hostname().required().label('Mail server'),
  port: Joi.number().port().default(993).label('Port'),
  secure: Joi.boolean().default(true).label('Encrypted from the start'),
  user: Joi.string().max(200).required().label('User'),
  folder: Joi.string().max(200).default('INBOX').label('Folder'),
  bodies: Joi.string().valid('report', 'read').default('report').label('Mails without attachment'),
  after: Joi.string().valid('mark as read', 'move').default('mark as read').label('Then'),
  moveTo: Joi.string().max(200).default('Taken').label('Move to'),
  pollSeconds: Joi.number().integer().min(1).max(86_400).default(60).label('Look every (seconds)'),
});

/** First and longest pause before a lost connection is made again, ms. */
const RECONNECT = { first: 1_000, longest: 60_000 };

export const mailboxSource: SourceConnector<MailboxSettings> = {
  key: 'mailbox',
  name: 'Mailbox (IMAP)',
  schema,
  secretName: 'Password',
  watch: watchMailbox,
  async tryOut(settings, secret) {
    const client = clientFor(settings, secret);
    try {
      await client.connect();
      const status = await client.status(settings.folder, { messages: true, unseen: true });
      return `Signed in as ${settings.user}. ${settings.folder} holds ${status === false ? 'an unknown number of' : (status.messages ?? 0)} mails.`;
    } catch (error) {
      throw new Error(plainTrouble(settings, error), { cause: error });
    } finally {
      client.close();
    }
  },
};

function clientFor(settings: MailboxSettings, secret: string | null): ImapFlow {
  const client = new ImapFlow({ host: settings.host, port: settings.port, secure: settings.secure, auth: { user: settings.user, pass: secret ?? '' }, logger: false, connectionTimeout: 15_000, socketTimeout: 90_000, maxIdleTime: settings.pollSeconds * 1000 });
  // Without a listener a lost connection would end the process; the watch notices by the commands that fail.
  client.on('error', () => undefined);
  return client;
}

async function watchMailbox(watch: Watch<MailboxSettings>): Promise<void> {
  let cursor = watch.cursor as MailCursor | null;
  let wait = RECONNECT.first;
  while (!watch.signal.aborted) {
    try {
      await stayConnected(watch, () => cursor, async (next) => {
        cursor = next;
        wait = RECONNECT.first;
        await watch.saveCursor(next);
      });
    } catch (error) {
      if (watch.signal.aborted) return;
      await watch.report(`${plainTrouble(watch.settings, error)} Trying again in ${Math.round(wait / 1000)} s.`);
      await pause(wait, watch.signal);
      wait = Math.min(RECONNECT.longest, wait * 2);
    }
  }
}

async function stayConnected(watch: Watch<MailboxSettings>, cursor: () => MailCursor | null, keep: (cursor: MailCursor) => Promise<void>): Promise<void> {
  const client = clientFor(watch.settings, watch.secret);
  const stop = () => client.close();
  watch.signal.addEventListener('abort', stop);
  const bell = bellOf(client, watch.signal);
  let lock: MailboxLockObject | null = null;
  try {
    await client.connect();
    if (watch.settings.after === 'move') await ensureFolder(client, watch.settings.moveTo);
    lock = await client.getMailboxLock(watch.settings.folder);
    while (!watch.signal.aborted) {
      bell.reset();
      await takeNew(client, watch, cursor(), keep);
      await watch.report(null);
      await newsOrTime(client, watch, bell.rung());
      if (!client.usable) throw new Error('the connection was lost');
    }
  } finally {
    watch.signal.removeEventListener('abort', stop);
    bell.remove();
    lock?.release();
    client.close();
  }
}

async function ensureFolder(client: ImapFlow, folder: string): Promise<void> {
  const folders = await client.list();
  if (!folders.some((known) => known.path === folder)) await client.mailboxCreate(folder);
}

/** Hears of new mail at any time, also while older mail is being taken: a notice that comes then is not lost. */
function bellOf(client: ImapFlow, signal: AbortSignal) {
  let rung = new AbortController();
  const ring = () => rung.abort();
  for (const event of ['exists', 'close', 'error'] as const) client.on(event, ring);
  signal.addEventListener('abort', ring);
  return {
    /** To be called before looking, so that what comes afterwards rings again. */
    reset: () => (rung = new AbortController()),
    rung: () => rung.signal,
    remove: () => signal.removeEventListener('abort', ring),
  };
}

/** Wait in IDLE (RFC 2177), where new mail shows as "exists" at once; where the server has none, the poll is the fallback. */
async function newsOrTime(client: ImapFlow, watch: Watch<MailboxSettings>, rung: AbortSignal): Promise<void> {
  if (rung.aborted) return;
  // Ends by itself when the next command is sent; its failure shows in that command.
  client.idle().catch(() => undefined);
  await pause(watch.settings.pollSeconds * 1000, rung);
  if (client.usable && !watch.signal.aborted) await client.noop();
}

/** Take every mail after the cursor, in order. The original is marked only after it is recorded, the cursor kept after that. */
async function takeNew(client: ImapFlow, watch: Watch<MailboxSettings>, cursor: MailCursor | null, keep: (cursor: MailCursor) => Promise<void>): Promise<void> {
  const mailbox = client.mailbox;
  if (mailbox === false) throw new Error('the folder is not open');
  const uidValidity = String(mailbox.uidValidity);
  const from = cursor?.uidValidity === uidValidity ? cursor.lastUid + 1 : 1;
  const waiting: { uid: number; size: number }[] = [];
  for await (const message of client.fetch(`${from}:*`, { uid: true, size: true }, { uid: true })) {
    // "n:*" always gives the last mail, even one before n (RFC 9051, 9, seq-range).
    if (message.uid >= from) waiting.push({ uid: message.uid, size: message.size ?? 0 });
  }
  for (const { uid, size } of waiting.sort((a, b) => a.uid - b.uid)) {
    if (watch.signal.aborted) return;
    if (await takeOne(client, watch, uid, size)) await markTaken(client, watch.settings, uid);
    await keep({ uidValidity, lastUid: uid });
  }
}

/** It is not the mail server's fault: what arrived could not be kept here. */
class NotRecorded extends Error {
  override readonly name = 'NotRecorded';
  constructor(cause: unknown) {
    super(`A mail could not be recorded and stays in the mailbox (${(cause as Error).message.slice(0, 150)}).`, { cause });
  }
}

/** False when the mail was gone before it could be fetched. */
async function takeOne(client: ImapFlow, watch: Watch<MailboxSettings>, uid: number, size: number): Promise<boolean> {
  const tooLarge = size > SOURCE_LIMITS.mailBytes;
  const message = await client.fetchOne(String(uid), tooLarge ? { headers: true } : { source: true }, { uid: true });
  const raw = message === false ? undefined : tooLarge ? message.headers : message.source;
  if (!raw) return false;
  const arrival = await arrivalFrom(raw, { uid, folder: watch.settings.folder }, watch.settings.bodies);
  const problem = { code: 'too-large', text: `The mail has ${(size / 1_000_000).toFixed(1)} MB; up to ${SOURCE_LIMITS.mailBytes / 1_000_000} MB are taken. It stays in the mailbox; only its head is kept here.` };
  await watch.emit(tooLarge ? { ...arrival, problem } : arrival).catch((error: unknown) => Promise.reject(new NotRecorded(error)));
  return true;
}

async function markTaken(client: ImapFlow, settings: MailboxSettings, uid: number): Promise<void> {
  if (settings.after === 'move') await client.messageMove(String(uid), settings.moveTo, { uid: true });
  else await client.messageFlagsAdd(String(uid), ['\\Seen'], { uid: true });
}

function plainTrouble(settings: MailboxSettings, error: unknown): string {
  const { code, authenticationFailed, responseText, message } = error as { code?: string; authenticationFailed?: boolean; responseText?: string; message?: string };
  if (error instanceof NotRecorded) return error.message;
  const where = `${settings.host}:${settings.port}`;
  if (authenticationFailed) return `The mail server ${where} refuses user ${settings.user} with this password.`;
  if (code === 'ECONNREFUSED') return `Nothing answers at ${where}; is the mail server running there?`;
  if (code === 'ENOTFOUND') return `There is no server named ${settings.host}.`;
  if (code?.startsWith('CERT_') || code?.includes('SELF_SIGNED')) return `The certificate of ${where} is not trusted (${code}).`;
  return `The mail server ${where} stopped answering (${(responseText ?? code ?? message ?? 'no reason given').slice(0, 150)}).`;
}
