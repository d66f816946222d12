import { spawn } from 'node:child_process';
import { childEnvironment } from '@/settings/settings';

/** What a child process did. */
export interface Ran {
  readonly code: number | null;
  readonly stdout: Buffer;
  /** First part of what it said on stderr. */
  readonly stderr: string;
  /** Why it was ended from here, if it was. */
  readonly ended: 'too long' | 'too much' | null;
}

export interface RunLimits {
  /** Wall time, ms. */
  readonly deadlineMs: number;
  /** Bytes of output. */
  readonly outputBytes: number;
  /** Added to the environment of the program. */
  readonly env?: Readonly<Record<string, string>>;
  /** The Debian package that brings the program, for the sentence when it is missing. Default poppler-utils. */
  readonly package?: string;
}

const STDERR_BYTES = 4_000;
/** Address space of a child, KiB: a damaged file must not take the machine's memory. */
const MEMORY_KIB = 2_000_000;

/**
 * Run a program of the machine with limits on time, output and memory. Arguments are never seen by a shell: they are handed
 * over as positional parameters of a fixed script that only sets the memory limit.
 * Rejects when the program is not installed.
 */
export function run(program: string, args: readonly string[], input: Buffer | null, limits: RunLimits): Promise<Ran> {
  return new Promise((resolve, reject) => {
    const child = spawn('/bin/sh', ['-c', `ulimit -v ${MEMORY_KIB}; exec "$0" "$@"`, program, ...args], { stdio: ['pipe', 'pipe', 'pipe'], env: childEnvironment(limits.env) });
    const out: Buffer[] = [];
    let [size, stderr] = [0, ''];
    let ended: Ran['ended'] = null;
    const end = (why: NonNullable<Ran['ended']>) => {
      ended ??= why;
      child.kill('SIGKILL');
    };
    const timer = setTimeout(() => end('too long'), limits.deadlineMs);
    child.stdout.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > limits.outputBytes) end('too much');
      else out.push(chunk);
    });
    child.stderr.on('data', (chunk: Buffer) => {
      if (stderr.length < STDERR_BYTES) stderr += chunk.toString('utf8');
    });
    child.on('error', reject);
    child.on('close', (code) => {
      clearTimeout(timer);
      if (code === 127) reject(new Error(`The program “${program}” is not installed; it comes with the Debian package ${limits.package ?? 'poppler-utils'}.`));
      else resolve({ code, stdout: Buffer.concat(out), stderr, ended });
    });
    // The program may end before it has read everything; that shows in its exit code, not here.
    child.stdin.on('error', () => undefined);
    child.stdin.end(input ?? undefined);
  });
}
