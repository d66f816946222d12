import hoodiecrow from 'hoodiecrow-imap';
import http from 'node:http';
import type { Socket } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { systemClock } from '@/settings/clock';

/**
 * Stand-in mail server for the demo and the tests: what is sent by SMTP to its one user lies in the INBOX, readable by IMAP; what is sent
 * to anybody else lies in Elsewhere, for looking at.
 * Mail is kept in memory only; each start has a UIDVALIDITY of its own, as RFC 9051 wants of a mailbox made anew.
 *
 * Arguments: IMAP port, SMTP port, control port, user, password; all on loopback. Control: POST /drop cuts all IMAP connections, GET /inbox and
 * GET /elsewhere list.
 */
const [imapPort = 0, smtpPort = 0, controlPort = 0] = process.argv.slice(2, 5).map(Number);
const [user = 'user', password = 'password'] = process.argv.slice(5);
const HOST = '127.0.0.1';
const MOST_MAIL_BYTES = 60_000_000;

const imap = hoodiecrow({
  plugins: ['IDLE', 'UIDPLUS', 'MOVE', 'SPECIAL-USE', 'ID', 'NAMESPACE', 'ENABLE', 'CONDSTORE', 'LITERALPLUS', 'UNSELECT'],
  users: { [user]: { password } },
  storage: { INBOX: { uidvalidity: Math.floor(systemClock.nowMs() / 1000), messages: [] }, '': { separator: '/', folders: { Taken: {}, Elsewhere: {} } } },
});

/** The part before the @; a user may be named with or without the domain. */
const mailboxOf = (address: string): string => address.toLowerCase().split('@')[0] ?? '';

const connections = new Set<Socket>();
imap.server.on('connection', (socket: Socket) => {
  connections.add(socket);
  socket.on('close', () => connections.delete(socket));
  // A cut connection is what this server is for.
  socket.on('error', () => undefined);
});

const smtp = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  size: MOST_MAIL_BYTES,
  onData(stream, session, done) {
    const chunks: Buffer[] = [];
    stream.on('data', (chunk: Buffer) => chunks.push(chunk));
    stream.on('end', () => {
      const ours = session.envelope.rcptTo.some(({ address }) => mailboxOf(address) === mailboxOf(user));
      imap.appendMessage(ours ? 'INBOX' : 'Elsewhere', [], false, Buffer.concat(chunks).toString('binary'));
      done();
    });
  },
});

const control = http.createServer((request, response) => {
  if (request.method === 'POST' && request.url === '/drop') {
    const cut = connections.size;
    for (const socket of connections) socket.destroy();
    response.end(JSON.stringify({ cut }));
  } else if (request.url === '/inbox') {
    response.end(JSON.stringify(imap.getMailbox('INBOX').messages.map(({ uid, flags }) => ({ uid, flags }))));
  } else if (request.url === '/elsewhere') {
    response.end(JSON.stringify(imap.getMailbox('Elsewhere').messages.map(({ uid, raw }) => ({ uid, raw }))));
  } else {
    response.writeHead(404).end();
  }
});

imap.listen(imapPort, HOST, () => smtp.listen(smtpPort, HOST, () => control.listen(controlPort, HOST, () => console.log('ready'))));
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
