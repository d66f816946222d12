import { billKind } from '../../../tests/support/definitions';
import type { Surroundings } from './catalogue';
import type { PipelineDefinition, Step } from './definition';
import { innerOf, offersAt, stepsBefore } from './offers';
import { complaintsAbout } from './static-checks';

const kind = billKind();
const around: Surroundings = {
  kinds: [kind],
  lists: [{ key: 'hauliers', name: 'Hauliers', columns: ['Number', 'Name'], results: false }, { key: 'ledger', name: 'Ledger', columns: ['Bill'], results: true }],
  connections: [{ key: 'app', name: 'App', connector: 'http' }, { key: 'db', name: 'Office', connector: 'database' }],
  pipelines: [{ key: 'a', name: 'A', starts: ['b'] }, { key: 'b', name: 'B', starts: ['me'] }],
};
const read: Step = { id: 'read', do: 'read', kind: kind.key };
const who: Step = { id: 'who', do: 'look-up', list: 'hauliers', find: 'haulier' };
const made = (...steps: Step[]): PipelineDefinition => ({ leadline: 'pipeline/1', key: 'me', name: 'Me', steps: [read, ...steps] });
const note = (id: string, value: string): Step => ({ id, do: 'set', values: { a: { pick: value } } });

describe(offersAt, () => {
  const sources = (pipeline: PipelineDefinition, id: string, table?: string) => offersAt(pipeline, id, around, table).map((offer) => offer.source);

  test('are the fields, what earlier steps noted and gave, and the document; nothing that comes later', () => {
    const pipeline = made(who, { id: 'n', do: 'set', values: { pay: 'soon' } }, note('here', 'total'), { id: 'later', do: 'set', values: { late: 'x' } });
    const offered = sources(pipeline, 'here');
    expect(offered).toEqual(expect.arrayContaining(['total', 'who.Number', 'who.Name', 'note.pay', 'document.name']));
    expect(offered.filter((source) => source.startsWith('row.') || source === 'note.late')).toEqual([]);
  });
  test('with rows, also the columns of the table; within lines those of the lines', () => {
    expect(sources(made(note('here', 'total')), 'here', 'lines')).toEqual(expect.arrayContaining(['row.description', 'row.amount']));
    expect(sources(made({ id: 'each', do: 'each', of: 'lines', steps: [note('in', 'total')] }), 'in')).toContain('row.amount');
  });
  test('what was given on a way before is offered after it; what is given on another way is not', () => {
    const branch: Step = { id: 'b', do: 'branch', ways: [{ name: 'W', when: { trusted: true }, steps: [who] }], else: { steps: [note('other', 'total')] } };
    const pipeline = made(branch, note('after', 'total'));
    expect([sources(pipeline, 'after').includes('who.Number'), sources(pipeline, 'other').includes('who.Number')]).toEqual([true, false]);
    expect(stepsBefore(pipeline.steps, 'other').map(({ id }) => id)).toEqual(['read', 'b']);
    expect(innerOf(branch).map((way) => way.map(({ id }) => id))).toEqual([['who'], ['other']]);
  });
  test('are in groups that say where they come from', () => {
    expect(new Set(offersAt(made(who, note('here', 'total')), 'here', around).map((offer) => offer.group))).toEqual(new Set([kind.name, 'Look up: who', 'The document']));
  });
});

describe('static checks of the further steps', () => {
  const about = (...steps: Step[]) => complaintsAbout(made(...steps), around).map(({ step, text }) => `${step}: ${text}`);
  test.each<[string, Step, string]>([
    ['a column that the list does not have', { id: 'w', do: 'look-up', list: 'hauliers', find: 'haulier', column: 'Town' }, 'w: “Hauliers” has no column “Town”. It has Number, Name.'],
    ['a connection that is not there', { id: 'c', do: 'call', connection: 'ghost', method: 'GET', path: '/' }, 'c: There is no connection “ghost”. Add it under Connections, or choose another.'],
    ['a connection of another sort', { id: 'm', do: 'mail', connection: 'app', to: 'a@b.example', subject: 's', text: 't' }, 'm: “App” is a connection of another sort and cannot be used here.'],
    ['a secret among the headers', { id: 's', do: 'send', connection: 'app', method: 'POST', path: '/', headers: { Authorization: { text: 'Bearer x' } } }, 's: The header “Authorization” would put a secret into the pipeline and its runs. Keep it with the connection instead.'],
    ['a value in a text that nothing gives', { id: 'f', do: 'write-file', name: '{nummer}', content: 'original' }, 'f: No kind that is read here has a field “nummer”.'],
    ['an expression with a mistake', { id: 'n', do: 'set', values: { a: { expression: '1 +' } } }, 'n: “1 +” is no expression'],
    ['a table that no kind has', { id: 'e', do: 'each', of: 'ghosts', steps: [] }, 'e: No kind that is read here has a table “ghosts”.'],
    ['a choice without options', { id: 'q', do: 'ask', title: 'Q', answers: [{ key: 'a', label: 'Answer', type: 'choice' }] }, 'q: “Answer” is a choice without options. Name some, or make it a text.'],
    ['a wait for nothing', { id: 'w', do: 'wait' }, 'w: It waits for nothing. Say for how many minutes, or until when.'],
    ['what an earlier step does not give', { id: 'n', do: 'set', values: { a: { pick: 'read.Town' } } }, 'n: “read.Town” is nothing that an earlier step gives.'],
    ['a circle of pipelines', { id: 's', do: 'start', pipeline: 'a' }, 's: It leads back to this pipeline (a → b → me), and would go round for ever.'],
  ])('%s', (_, step, expected) => expect(about(step)).toEqual([expect.stringContaining(expected)]));
  test('a step that is switched off is not complained about, and gives nothing', () => {
    expect(about({ ...who, list: 'ghost', off: true })).toEqual([]);
    expect(about({ ...who, off: true }, note('n', 'who.Name'))).toEqual(['n: “who.Name” is nothing that an earlier step gives.']);
  });
});
