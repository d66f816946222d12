import { spawn } from 'node:child_process';
import { closeSync, openSync, readFileSync } from 'node:fs';
import path from 'node:path';

const LEASH = path.join(import.meta.dirname, 'leash.mjs');

/**
 * Start a Node program as a child on a leash, its output going to a log file. `ready` tells when it can be used: a pattern in its log, or
 * an address that must answer. Rejects with the end of the log when it ends before.
 */
export async function startChild({ name, args, env, log, ready, seconds = 60 }) {
  const out = openSync(log, 'w');
  const child = spawn(process.execPath, ['--import', LEASH, ...args], { env: { ...process.env, ...env }, stdio: ['ignore', out, out, 'ipc'] });
  closeSync(out);
  let ended = null;
  const exited = new Promise((resolve) => child.once('exit', (code, signal) => resolve((ended = signal ?? code))));
  const until = Date.now() + seconds * 1000;
  while (!(await isReady(ready, log))) {
    if (ended !== null || Date.now() > until) {
      child.kill('SIGKILL');
      throw new Error(`${name} did not start${ended === null ? ` within ${seconds} s` : ''}. The end of ${log}:\n${readFileSync(log, 'utf8').trim().split('\n').slice(-8).join('\n')}`);
    }
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
  return {
    pid: child.pid,
    exited,
    /** End it in good order; after `patience` ms without. */
    async stop(patience = 8000) {
      if (ended !== null) return;
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), patience);
      await exited;
      clearTimeout(timer);
    },
    kill: () => child.kill('SIGKILL'),
  };
}

async function isReady(ready, log) {
  if (typeof ready === 'string') return fetch(ready, { signal: AbortSignal.timeout(2000) }).then((answer) => answer.status < 500, () => false);
  return ready.test(readFileSync(log, 'utf8'));
}

/** A child run to its end; rejects with its output when it fails. */
export function runChild(program, args, { env = {}, cwd, show = false } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd, env: { ...process.env, ...env }, stdio: show ? 'inherit' : ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (output = (output + chunk).slice(-20_000)));
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve(output) : reject(new Error(`${program} ${args.join(' ')} failed (${code}):\n${output.trim().split('\n').slice(-25).join('\n')}`))));
  });
}
