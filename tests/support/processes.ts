import { spawn, type ChildProcess } from 'node:child_process';
import net from 'node:net';

/** A Node process of ours, to be started and killed by tests. */
export interface Started {
  readonly process: ChildProcess;
  /** Everything it said so far. */
  readonly said: () => string;
  /** SIGKILL, as a crash would; resolves when it is gone. */
  kill(): Promise<void>;
}

/** Start one of our entries and wait until it says that it is ready. */
export function startEntry(file: string, args: readonly (string | number)[], env: Readonly<Record<string, string>>, ready = /ready$/m): Promise<Started> {
  const child = spawn(process.execPath, ['--import', 'tsx', file, ...args.map(String)], { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  return new Promise((resolve, reject) => {
    const hear = (chunk: Buffer) => {
      said += chunk.toString();
      if (ready.test(said)) resolve({ process: child, said: () => said, kill: () => { child.kill('SIGKILL'); return gone; } });
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('exit', (code) => reject(new Error(`${file} ended with ${code}:\n${said.slice(-2000)}`)));
  });
}

export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = net.createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as net.AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}
