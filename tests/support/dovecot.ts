import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, chownSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { freePort } from './processes';

export interface Dovecot {
  readonly port: number;
  /** Put a message into a folder as a delivery agent does: a file in the maildir's `new`. */
  deliver(name: string, raw: Buffer): void;
  /** Names of the message files of a folder, flags included; "" is the INBOX. */
  messages(folder?: string): string[];
  /** Forget the index, as a restored or rebuilt mailbox does: numbers begin anew under another UIDVALIDITY. */
  renumber(): void;
  stop(): Promise<void>;
}

/** A real IMAP server (Debian's dovecot-imapd) on loopback with one user; its mail lies in a maildir. Needs root, as the server does. */
export async function startDovecot(user: string, password: string): Promise<Dovecot> {
  const home = mkdtempSync(path.join(os.tmpdir(), 'leadline-dovecot-'));
  const port = await freePort();
  const maildir = path.join(home, 'mail');
  chmodSync(home, 0o755);
  for (const folder of ['', 'new', 'cur', 'tmp']) {
    mkdirSync(path.join(maildir, folder), { recursive: true });
    chownSync(path.join(maildir, folder), 65534, 65534);
  }
  writeFileSync(path.join(home, 'conf'), `
base_dir = ${home}/run
log_path = ${home}/log
protocols = imap
listen = 127.0.0.1
ssl = no
disable_plaintext_auth = no
first_valid_uid = 1
mail_location = maildir:${maildir}
mail_uid = 65534
mail_gid = 65534
passdb {
  driver = static
  args = user=${user} password=${password}
}
userdb {
  driver = static
  args = uid=65534 gid=65534 home=${home}
}
service imap-login {
  inet_listener imap {
    port = ${port}
  }
  inet_listener imaps {
    port = 0
  }
}
`);
  const server: ChildProcess = spawn('/usr/sbin/dovecot', ['-F', '-c', path.join(home, 'conf')], { stdio: 'ignore' });
  const gone = new Promise<void>((resolve) => server.once('exit', () => resolve()));
  for (let turn = 0; turn < 100; turn += 1) {
    if (/starting up/.test(readLog(home))) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  const place = (folder: string) => (folder === '' ? maildir : path.join(maildir, `.${folder}`));
  return {
    port,
    deliver: (name, raw) => {
      const aside = path.join(maildir, 'tmp', name);
      writeFileSync(aside, raw);
      chownSync(aside, 65534, 65534);
      writeFileSync(path.join(maildir, 'new', name), raw);
      chownSync(path.join(maildir, 'new', name), 65534, 65534);
      rmSync(aside);
    },
    messages: (folder = '') => ['new', 'cur'].flatMap((part) => readdirSync(path.join(place(folder), part))),
    renumber: () => {
      for (const name of readdirSync(maildir)) if (/^dovecot/.test(name)) rmSync(path.join(maildir, name), { recursive: true });
    },
    async stop() {
      server.kill('SIGTERM');
      await gone;
      rmSync(home, { recursive: true, force: true });
    },
  };
}

function readLog(home: string): string {
  try {
    return readFileSync(path.join(home, 'log'), 'utf8');
  } catch {
    return '';
  }
}
