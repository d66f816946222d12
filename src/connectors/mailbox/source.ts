import type { ImapFlow, MailboxLockObject } from 'imapflow';
import Joi from 'joi';
import { pause } from '@/settings/clock';
import { SEVERAL, type SourceConnector, type Watch } from '../source';
import { clientFor, ensureFolder, markTaken, plainTrouble, takeOne, type MailboxSettings } from './client';

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
  several: Joi.string().valid(...SEVERAL).default('each').label('Several attachments'),
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
    if (await takeOne(client, watch.settings, { uid, size }, watch.emit.bind(watch))) await markTaken(client, watch.settings, uid);
    await keep({ uidValidity, lastUid: uid });
  }
}
