/** What a start meets on a machine where the last one was killed, or where others were before. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';

let folder = '';
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-startup-'))));
afterEach(() => {
  script(`const { startDatabase } = await import('./bin/lib/database.mjs'); await (await startDatabase(${JSON.stringify(folder)})).stop();`);
  rmSync(folder, { recursive: true, force: true });
});

/** Run a few lines as a process of its own, as a start is one. */
function script(text: string): { out: string; error: string; code: number | null } {
  const done = spawnSync(process.execPath, ['--input-type=module', '-e', text], { encoding: 'utf8' });
  return { out: done.stdout, error: done.stderr, code: done.status };
}

const start = `
const { startDatabase } = await import('./bin/lib/database.mjs');
const database = await startDatabase(process.env.FOLDER);
console.log(JSON.stringify({ reused: database.reused, port: database.port }));
`;
const startIn = () => script(start.replace('process.env.FOLDER', JSON.stringify(folder)));
const answer = (out: string) => JSON.parse(out.trim().split('\n').at(-1) ?? '{}') as { reused: boolean; port: number };

test('a server left over from a start that was killed is used again, with its data', () => {
  const [first, second] = [startIn(), startIn()];
  expect([answer(first.out).reused, answer(second.out).reused, answer(first.out).port === answer(second.out).port]).toEqual([false, true, true]);
}, 60_000);

test('a server that was killed is started again', () => {
  startIn();
  process.kill(Number(readFileSync(path.join(folder, 'pid'), 'utf8')), 'SIGKILL');
  const again = startIn();
  expect([again.error, answer(again.out).reused]).toEqual(['', false]);
}, 60_000);

test('a half-made data folder is put aside and a new one made', () => {
  mkdirSync(path.join(folder, 'data'));
  writeFileSync(path.join(folder, 'data', 'ibdata1'), 'cut off');
  const { out, code } = startIn();
  expect([code, out]).toEqual([0, expect.stringContaining('half-made database folder was found and put aside')]);
  expect([readdirSync(folder).some((name) => name.startsWith('data.unfinished')), existsSync(path.join(folder, 'made'))]).toEqual([true, true]);
}, 60_000);

test('a data folder that cannot be written is told in a sentence', () => {
  writeFileSync(path.join(folder, 'file'), '');
  const { error, code } = script(start.replace('process.env.FOLDER', JSON.stringify(path.join(folder, 'file', 'inside'))));
  expect([code, error]).toEqual([1, expect.stringContaining('ENOTDIR')]);
}, 60_000);

test('the web server takes the next free port, and says so when a chosen one is taken', async () => {
  const other = net.createServer();
  const port = await new Promise<number>((resolve) => other.listen(0, '127.0.0.1', () => resolve((other.address() as net.AddressInfo).port)));
  const ask = (given: boolean) => script(`const { webPort } = await import('./bin/lib/system.mjs'); console.log(await webPort(${port}, ${given}));`);
  expect(Number(ask(false).out)).toBeGreaterThan(port);
  expect(ask(true).error).toContain(`Port ${port} is used by another program. Choose another with`);
  other.close();
}, 60_000);
