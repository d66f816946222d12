import { billKind, PIPELINE_YAML } from '../../../tests/support/definitions';
import { typedPage } from '../../../tests/support/page';
import { checkDocument } from '@/core/checking/check';
import { parsePipeline } from '@/core/definition/parse';
import { readDocument } from '@/core/reading/chain';
import type { PipelineDefinition } from './definition';
import { complaintsAbout, type Surroundings } from './static-checks';
import { tryOut, type TryPorts } from './try-out';

const parsed = parsePipeline(PIPELINE_YAML);
const pipeline = parsed.ok ? parsed.definition : (undefined as never);
const kind = billKind();
const document = { id: 'D', fileName: 'a.pdf', receivedAt: '2026-03-12T00:00:00Z', sender: null };
const page = (total: string) => typedPage(['Merrow Haulage', 'Bill no. MH-104002', 'Bill date 12.03.2026', 'Account no.   SQ-1', '', 'Description        Qty    Unit   Unit price   Amount', 'Trip to the pier   2      trip   1000.00      2000.00', 'Total of services  2000.00', 'Tax 20 %           400.00', `Total due          ${total}`]);
const ports = (total: string, changes: Partial<TryPorts> = {}): TryPorts => ({
  kind: async (key) => (key === kind.key ? kind : null),
  sort: async () => ({ kind: null, ranked: [{ kind: kind.key, name: kind.name, share: 0.6, reasons: ['words'] }] }),
  read: async (wanted) => readDocument([page(total)], wanted),
  findings: async (wanted, readings, layout) => checkDocument({ kind: wanted, layout, readings, pages: [page(total)] }),
  row: async () => null,
  rows: async () => [],
  call: async () => ({}),
  asks: true,
  came: async () => null,
  kept: async () => null,
  ...changes,
});

describe(tryOut, () => {
  test('shows what would be written, and writes nothing', async () => {
    const { steps, straight } = await tryOut(pipeline, document, ports('2400.00'));
    expect([straight, steps.map(({ step, state }) => `${step} ${state}`)]).toEqual([true, ['read done', 'check done', 'review done', 'size done', 'usual done', 'ledger would write', 'workbook would write']]);
    expect(steps.at(-2)?.writes).toEqual([{ target: 'haulage-ledger', rows: [expect.objectContaining({ Bill: expect.objectContaining({ value: 'MH-104002', place: expect.anything() }), Pay: { value: 'with the next round', place: null } })] }]);
  });
  test('says that the desk would be asked, and goes on as if it accepted', async () => {
    const { steps, straight } = await tryOut(pipeline, document, ports('2500.00'));
    expect([straight, steps.find(({ step }) => step === 'review')]).toEqual([false, expect.objectContaining({ state: 'would ask', reason: expect.stringContaining('too little in the parts') })]);
    expect(steps.at(-1)?.state).toBe('would write');
  });
  test('sorting that is unsure would ask, and goes on with the likeliest', async () => {
    const sorting: PipelineDefinition = { ...pipeline, steps: [{ id: 'sort', do: 'sort' }, { id: 'read', do: 'read' }] };
    expect((await tryOut(sorting, document, ports('2400.00'))).steps.map(({ state, reason }) => [state, reason])).toEqual([['would ask', 'It looks most like Haulage bill, 60 of 100.'], ['done', null]]);
  });
  test('asks a service only by GET; of any other method it shows what would be sent, and sends nothing', async () => {
    const asked: string[] = [];
    const call = (method: 'GET' | 'DELETE') => ({ id: method.toLowerCase(), do: 'call', connection: 'x', method, path: '/bills/{document.id}' }) as const;
    const calling: PipelineDefinition = { ...pipeline, steps: [call('GET'), call('DELETE')] };
    const { steps } = await tryOut(calling, document, ports('2400.00', { call: async (step) => { asked.push(step.id); return { a: 'b' }; } }));
    expect([asked, steps.map(({ state, writes }) => [state, writes[0]?.target])]).toEqual([['get'], [['done', undefined], ['would write', 'DELETE /bills/D']]]);
  });
  test('what was answered when the document went through is there for later steps, without asking again', async () => {
    const calling: PipelineDefinition = { ...pipeline, steps: [{ id: 'post', do: 'call', connection: 'x', method: 'POST', path: '/a' }, { id: 'bill', do: 'send', connection: 'x', method: 'POST', path: '/b' }, { id: 'note', do: 'set', values: { both: { text: '{post.id} {bill.id}' } } }] };
    const { steps } = await tryOut(calling, document, ports('2400.00', { kept: async (spot) => ({ id: `${spot}-7` }) }));
    expect(steps.map(({ state, result }) => [state, (result as { values?: unknown }).values])).toEqual([['done', { id: 'post-7' }], ['would write', { id: 'bill-7' }], ['done', { both: 'post-7 bill-7' }]]);
  });
  test('where services are not to be asked, what they answered before counts, and they are asked where they never did', async () => {
    const calling: PipelineDefinition = { ...pipeline, steps: [{ id: 'old', do: 'call', connection: 'x', method: 'GET', path: '/a' }, { id: 'new', do: 'call', connection: 'x', method: 'GET', path: '/b' }] };
    const asked: string[] = [];
    const { steps } = await tryOut(calling, document, ports('2400.00', { asks: false, kept: async (spot) => (spot === 'old' ? { id: 'before' } : null), call: async (step) => { asked.push(step.id); return { id: 'now' }; } }));
    expect([asked, steps.map(({ result }) => (result as { values?: unknown }).values)]).toEqual([['new'], [{ id: 'before' }, { id: 'now' }]]);
  });
  test.each([['check', ['read', 'check']], ['size', ['read', 'check', 'review', 'size']], ['gone', ['read', 'check', 'review', 'size', 'usual', 'ledger', 'workbook']]])('goes as far as “%s”', async (until, steps) => {
    const tried = await tryOut(pipeline, document, ports('2400.00'), until);
    expect([tried.steps.map(({ step }) => step), tried.straight]).toEqual([steps, true]);
  });
  test('what the run would be given along is there for its steps', async () => {
    const noting: PipelineDefinition = { ...pipeline, steps: [{ id: 'n', do: 'set', values: { where: { pick: 'came.berth' } } }] };
    const { known } = await tryOut(noting, document, ports('2400.00', { came: async () => ({ berth: 'A4' }) }));
    expect(known.notes).toEqual({ where: 'A4' });
  });
  test('ends at the step that fails, with the reason', async () => {
    const { steps, straight } = await tryOut(pipeline, document, ports('2400.00', { kind: async () => null }));
    expect([straight, steps]).toEqual([false, [{ step: 'read', line: null, state: 'failed', result: null, reason: 'The document kind “haulage-bill” is not published.', writes: [] }]]);
  });
});

describe(complaintsAbout, () => {
  const around: Surroundings = { connections: [], pipelines: [], kinds: [kind], lists: [{ key: 'haulage-ledger', name: 'Haulage ledger', results: true, columns: ['Haulier', 'Bill', 'Date', 'Account', 'Discount', 'Tax', 'Total', 'Pay'] }, { key: 'meters', name: 'Meters', results: false, columns: ['No'] }] };
  const about = (...steps: PipelineDefinition['steps']) => complaintsAbout({ ...pipeline, steps }, around).map(({ step, text }) => `${step}: ${text}`);

  test('what comes along from the pipeline that starts it is known by name', () => {
    const told = (given: readonly string[]) => complaintsAbout({ ...pipeline, steps: [{ id: 'n', do: 'set', values: { a: { pick: 'came.text' } } }] }, { ...around, pipelines: [{ key: pipeline.key, name: 'P', starts: [], given }] }).map(({ text }) => text);
    expect([told(['text']), told(['other'])]).toEqual([[], ['The step “came” does not give “text”. It gives came.other.']]);
  });
  test('finds nothing wrong with the pipeline of the demo', () => expect(complaintsAbout(pipeline, around)).toEqual([]));
  test('a kind that is not published, and a list that is not there', () => {
    expect(about({ id: 'r', do: 'read', kind: 'ghost' }, { id: 'w', do: 'write-list', list: 'nowhere', columns: { A: 'document.name' } })).toEqual(['r: The document kind “ghost” is not published. Publish it, or choose another.', 'w: There is no list “nowhere”. Make it first.']);
  });
  test('columns and fields that are not there, each with those that are', () => {
    const complaints = about({ id: 'r', do: 'read', kind: kind.key }, { id: 'w', do: 'write-list', list: 'haulage-ledger', columns: { Sum: 'total', Bill: 'nummer', Pay: 'note.pay' } }, { id: 'm', do: 'write-list', list: 'meters', columns: { No: 'number' } });
    expect(complaints).toEqual([expect.stringContaining('w: “Haulage ledger” has no column “Sum”. It has Haulier,'), expect.stringContaining('w: No kind that is read here has a field “nummer”. There are haulier, number'), 'w: Nothing notes “pay”.', 'm: “Meters” is reference data; pipelines cannot write to it.']);
  });
  test('rows without a table, and columns that the table does not have', () => {
    const read = { id: 'r', do: 'read', kind: kind.key } as const;
    expect(about(read, { id: 'w', do: 'write-list', list: 'haulage-ledger', columns: { Bill: 'row.amount' } })).toEqual(['w: “row.amount” needs rows: say with “each” of which table.']);
    expect(about(read, { id: 'w', do: 'write-list', list: 'haulage-ledger', each: 'lines', columns: { Bill: 'row.colour' } })).toEqual(['w: The table “lines” has no column “colour”.']);
  });
  test('steps in an order that cannot work, and steps that are never reached', () => {
    expect(about({ id: 'c', do: 'check' }, { id: 'r', do: 'read' }, { id: 's', do: 'stop', reason: 'no' }, { id: 'n', do: 'set', values: { a: 'b' } })).toEqual(['c: Nothing has been read before this check. Put a reading step before it.', 'r: It reads as the kind that was found, but nothing finds one before it. Put a sorting step before it, or name the kind.', 'n: It can never be reached: the step before it always stops.']);
  });
});
