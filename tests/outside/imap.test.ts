/** The mailbox connector against a real IMAP server: Debian's dovecot-imapd (IMAP4rev1, RFC 3501, with IDLE, UIDPLUS and MOVE). */
import type { MailboxSettings } from '@/connectors/mailbox/client';
import { mailboxSource } from '@/connectors/mailbox/source';
import type { Arrival } from '@/connectors/source';
import { pause } from '@/settings/clock';
import { startDovecot, type Dovecot } from '../support/dovecot';

// The server gives each of its processes a user of its own, which only root can do.
const asRoot = process.getuid?.() === 0 ? test : test.skip;
let server: Dovecot;
beforeEach(async () => process.getuid?.() === 0 && (server = await startDovecot('office', 'herring')), 30_000);
afterEach(() => server?.stop());

const message = (subject: string): Buffer => Buffer.from(`From: Sender <a@b.example>\r\nSubject: ${subject}\r\nDate: Fri, 21 Nov 1997 09:55:06 -0600\r\nMIME-Version: 1.0\r\nContent-Type: application/pdf; name=${subject}.pdf\r\nContent-Transfer-Encoding: base64\r\n\r\nJVBERi0xLjQ=\r\n`);
const settings = (changes: Partial<MailboxSettings> = {}): MailboxSettings => ({ host: '127.0.0.1', port: server.port, secure: false, user: 'office', folder: 'INBOX', bodies: 'report', after: 'mark as read', moveTo: 'Taken', pollSeconds: 60, ...changes });

async function until(condition: () => boolean, ms = 15_000): Promise<void> {
  for (let waited = 0; waited < ms && !condition(); waited += 50) await pause(50);
  expect(condition()).toBe(true);
}

/** What one start of the watch sees, from a cursor on; the new cursor is kept for the next start. */
async function watching(state: { cursor: unknown }, changes: Partial<MailboxSettings>, work: (seen: { arrivals: Arrival[]; reports: (string | null)[] }) => Promise<void>): Promise<void> {
  const stop = new AbortController();
  const seen = { arrivals: [] as Arrival[], reports: [] as (string | null)[] };
  const done = mailboxSource.watch({ settings: settings(changes), secret: 'herring', cursor: state.cursor, emit: async (arrival) => void seen.arrivals.push(arrival), saveCursor: async (cursor) => void (state.cursor = cursor), report: async (problem) => void seen.reports.push(problem), signal: stop.signal });
  try {
    await work(seen);
  } finally {
    stop.abort();
    await done;
  }
}

asRoot('takes what is there in order, then what comes, by IDLE and long before the next poll; marks it as read and deletes nothing', async () => {
  server.deliver('1', message('one'));
  server.deliver('2', message('two'));
  await watching({ cursor: null }, {}, async ({ arrivals }) => {
    await until(() => arrivals.length === 2);
    await pause(500);
    server.deliver('3', message('three'));
    // The next poll would be a minute away.
    await until(() => arrivals.length === 3, 30_000);
    expect(arrivals.map((arrival) => [arrival.subject, arrival.files[0]?.name])).toEqual([['one', 'one.pdf'], ['two', 'two.pdf'], ['three', 'three.pdf']]);
    await until(() => server.messages().every((name) => /:2,.*S/.test(name)));
    expect(server.messages()).toHaveLength(3);
  });
}, 60_000);

asRoot('goes on from its cursor: nothing is taken twice, nothing that came meanwhile is missed', async () => {
  const state = { cursor: null as unknown };
  server.deliver('1', message('one'));
  await watching(state, {}, ({ arrivals }) => until(() => arrivals.length === 1 && state.cursor !== null));
  server.deliver('2', message('two'));
  await watching(state, {}, async ({ arrivals }) => {
    await until(() => arrivals.length === 1);
    expect(arrivals[0]?.subject).toBe('two');
  });
}, 60_000);

asRoot('when the mailbox is numbered anew, everything is seen again under the same keys', async () => {
  const state = { cursor: null as unknown };
  const keys: string[] = [];
  server.deliver('1', message('one'));
  await watching(state, {}, async ({ arrivals }) => {
    await until(() => arrivals.length === 1 && state.cursor !== null);
    keys.push(arrivals[0]!.dedupeKey);
  });
  await pause(1_100);
  server.renumber();
  await watching(state, {}, async ({ arrivals }) => {
    await until(() => arrivals.length === 1);
    expect(arrivals[0]?.dedupeKey).toBe(keys[0]);
  });
}, 60_000);

asRoot('moves taken mail to a folder that it makes', async () => {
  server.deliver('1', message('one'));
  await watching({ cursor: null }, { after: 'move' }, async ({ arrivals }) => {
    await until(() => arrivals.length === 1);
    await until(() => server.messages().length === 0);
  });
  expect(server.messages('Taken')).toHaveLength(1);
}, 60_000);

asRoot('a mail that cannot be recorded stays unread in the mailbox and comes again', async () => {
  server.deliver('1', message('one'));
  const stop = new AbortController();
  const reports: (string | null)[] = [];
  let tries = 0;
  const done = mailboxSource.watch({ settings: settings(), secret: 'herring', cursor: null, emit: async () => { tries += 1; if (tries === 1) throw new Error('disk full'); }, saveCursor: async () => undefined, report: async (problem) => void reports.push(problem), signal: stop.signal });
  await until(() => tries === 2 && server.messages().some((name) => /:2,.*S/.test(name)));
  stop.abort();
  await done;
  expect(reports.find(Boolean)).toBe('A mail could not be recorded and stays in the mailbox (disk full). Trying again in 1 s.');
}, 60_000);

asRoot('"Try it" says what it found, or why not', async () => {
  server.deliver('1', message('one'));
  await expect(mailboxSource.tryOut(settings(), 'herring')).resolves.toBe('Signed in as office. INBOX holds 1 mails.');
  await expect(mailboxSource.tryOut(settings(), 'wrong')).rejects.toThrow('refuses user office with this password');
  await expect(mailboxSource.tryOut(settings({ port: 1 }), 'herring')).rejects.toThrow('Nothing answers at 127.0.0.1:1');
}, 60_000);
