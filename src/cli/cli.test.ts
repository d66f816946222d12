import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeBill, truthOf } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';

let folder = '';
beforeAll(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-cli-'))));
afterAll(() => rmSync(folder, { recursive: true }));

/** As from a shell in another folder, with nothing running and no database known. */
function leadline(...args: string[]) {
  const done = spawnSync(path.resolve('bin/leadline'), args, { cwd: folder, encoding: 'utf8', env: { PATH: process.env['PATH'], HOME: folder, LEADLINE_DATA: folder } as unknown as NodeJS.ProcessEnv });
  return { code: done.status, out: done.stdout, error: done.stderr };
}

describe('bin/leadline', () => {
  test('reads a file as JSON with values, boxes, confidences and findings, without server and database', async () => {
    writeFileSync(path.join(folder, 'bill.pdf'), await printBill(makeBill(4, 'discount elsewhere')));
    const { code, out } = leadline('read', 'bill.pdf', '--kind', 'haulage-bill', '--json');
    const read = JSON.parse(out) as { layout: string; trusted: boolean; fields: Record<string, { value: string; confidence: number; place: { page: number; box: number[] } }>; tables: { lines: object[] }; findings: { check: string }[] };
    expect([code, read.layout, read.trusted, read.findings.map((finding) => finding.check)]).toEqual([1, 'merrow', false, ['reconcile']]);
    expect(read.fields['total']).toMatchObject({ value: truthOf(makeBill(4, 'discount elsewhere')).fields.total, place: { page: 1, box: [expect.any(Number), expect.any(Number), expect.any(Number), expect.any(Number)] } });
    expect(read.tables.lines).toHaveLength(makeBill(4).rows.length);
  }, 30_000);

  test('ends with 0 where nothing needs a person, 1 where something does, 2 where it could not be done', async () => {
    writeFileSync(path.join(folder, 'good.pdf'), await printBill(makeBill(2)));
    writeFileSync(path.join(folder, 'bad.pdf'), Buffer.from('PK\x03\x04', 'latin1'));
    expect(leadline('read', 'good.pdf', '--kind', 'haulage-bill').code).toBe(0);
    expect(leadline('read', 'bad.pdf', '--kind', 'haulage-bill')).toMatchObject({ code: 2, out: expect.stringContaining('This is a packed or office file') });
    expect(leadline('read', 'good.pdf', '--kind', 'nothing')).toMatchObject({ code: 2, error: expect.stringContaining('There is no kind “nothing”. Looked at:') });
    expect(leadline('read', 'good.pdf').code).toBe(2);
  }, 30_000);

  test('checks a definition and names each mistake with its place', () => {
    writeFileSync(path.join(folder, 'p.yaml'), readFileSync('demo/pipelines/haulage-to-ledger.yaml', 'utf8').replace('do: check', 'do: chek'));
    const { code, out } = leadline('check', './p.yaml');
    expect([code, out]).toEqual([1, expect.stringMatching(/p\.yaml:\d+:\d+: /)]);
  }, 30_000);

  test('says what to do when no database is known, and when no demo runs', () => {
    expect(leadline('source', 'list')).toMatchObject({ code: 2, error: expect.stringContaining('npm run demo') });
  }, 30_000);
});
