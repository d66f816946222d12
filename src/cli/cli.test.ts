import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeBill, truthOf } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { powerStatement } from '../../demo/papers/arriving';
import { METERS } from '../../demo/papers/harbour';

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

  test('sends a file through a pipeline and shows what would be written', async () => {
    writeFileSync(path.join(folder, 'straight.pdf'), await printBill(makeBill(2)));
    writeFileSync(path.join(folder, 'doubtful.pdf'), await printBill(makeBill(7, 'does not add up')));
    writeFileSync(path.join(folder, 'hauliers.csv'), 'Number,Name\nH-101,Merrow Haulage\nH-102,Tollan & Daughters Reefer Lines\n');
    const pipeline = path.resolve('demo/pipelines/haulage-to-ledger.yaml');
    const straight = leadline('run', pipeline, 'straight.pdf', '--dry', '--json', '--list', 'hauliers=hauliers.csv');
    const tried = JSON.parse(straight.out) as { straight: boolean; steps: { step: string; state: string; writes: { target: string; rows: Record<string, { value: string }>[] }[] }[] };
    expect([straight.code, tried.straight, tried.steps.find((step) => step.step === 'ledger')?.writes[0]?.rows[0]?.['Bill']?.value]).toEqual([0, true, makeBill(2).number]);
    expect(leadline('run', pipeline, 'doubtful.pdf', '--dry', '--list', 'hauliers=hauliers.csv')).toMatchObject({ code: 1, out: expect.stringMatching(/would ask +Ask the desk/) });
    expect(leadline('run', pipeline, 'straight.pdf').code).toBe(2);
  }, 60_000);

  test('finds the row of a bound list in a file of reference data', async () => {
    const made = await powerStatement(3);
    writeFileSync(path.join(folder, made.name), made.bytes);
    writeFileSync(path.join(folder, 'meters.csv'), ['Meter,Berth,Boat', ...METERS.map(({ meter, berth, boat }) => `${meter},${berth},${boat}`)].join('\n'));
    const kind = path.resolve('demo/kinds/power-statement.yaml');
    const { out } = leadline('read', made.name, '--kind', kind, '--list', `berth-meters=${path.join(folder, 'meters.csv')}`, '--json');
    const { fields } = JSON.parse(out) as { fields: Record<string, { value: string; reader: string }> };
    expect(['meter', 'berth', 'boat'].map((key) => [fields[key]?.value, fields[key]?.reader])).toEqual(['meter', 'berth', 'boat'].map((key) => [made.truth.fields[key], 'list']));
    expect(leadline('read', made.name, '--kind', kind, '--list', 'nonsense')).toMatchObject({ code: 2, error: expect.stringContaining('should be KEY=FILE') });
  }, 60_000);

  test('says what to do when no database is known, and when no demo runs', () => {
    expect(leadline('source', 'list')).toMatchObject({ code: 2, error: expect.stringContaining('npm run demo') });
  }, 30_000);
});
