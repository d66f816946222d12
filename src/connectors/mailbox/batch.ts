import type { ImapFlow } from 'imapflow';
import Joi from 'joi';
import { MOST_IN_BATCH, type BatchPlace, type Waiting } from '../batch';
import { clientFor, ensureFolder, markTaken, plainTrouble, takeOne, type MailboxSettings } from './client';

/** The mails of a folder that were not taken yet: all of them where taken ones are moved, else the unread ones. */
export const mailboxPlace: BatchPlace<MailboxSettings> = {
  key: 'mailbox',
  schema: Joi.object<MailboxSettings>().unknown(),
  waiting: (settings, secret) => opened(settings, secret, async (client, validity) => {
    const uids = (await client.search(settings.after === 'move' ? { all: true } : { seen: false }, { uid: true })) || [];
    const mails: Waiting[] = [];
    if (uids.length === 0) return mails;
    for await (const mail of client.fetch(uids.slice(0, MOST_IN_BATCH).join(','), { uid: true, size: true, envelope: true, internalDate: true }, { uid: true })) {
      const from = mail.envelope?.from?.[0]?.address;
      const at = mail.envelope?.date ?? mail.internalDate;
      mails.push({ ref: `${validity}:${mail.uid}`, name: [mail.envelope?.subject, from].filter(Boolean).join(', ').slice(0, 200) || `Mail ${mail.uid}`, size: mail.size ?? null, at: at ? new Date(at).toISOString() : null });
    }
    return mails.sort((a, b) => (a.at ?? '').localeCompare(b.at ?? ''));
  }),
  take: ({ settings, secret, refs, emit, fail, signal }) => opened(settings, secret, async (client, validity) => {
    if (settings.after === 'move') await ensureFolder(client, settings.moveTo);
    for (const ref of refs) {
      if (signal.aborted) return;
      const [known, uid = ''] = ref.split(':');
      const mail = known === validity ? await client.fetchOne(uid, { uid: true, size: true }, { uid: true }) : false;
      const taken = mail !== false && (await takeOne(client, settings, { uid: Number(uid), size: mail.size ?? 0 }, (arrival) => emit(ref, arrival)));
      if (taken) await markTaken(client, settings, Number(uid));
      else await fail(ref, 'The mail is not in the mailbox any more.');
    }
  }),
};

async function opened<T>(settings: MailboxSettings, secret: string | null, work: (client: ImapFlow, validity: string) => Promise<T>): Promise<T> {
  const client = clientFor(settings, secret);
  try {
    await client.connect();
    const lock = await client.getMailboxLock(settings.folder);
    const { mailbox } = client;
    try {
      return await work(client, mailbox === false ? '' : String(mailbox.uidValidity));
    } finally {
      lock.release();
    }
  } catch (error) {
    throw new Error(plainTrouble(settings, error), { cause: error });
  } finally {
    client.close();
  }
}
