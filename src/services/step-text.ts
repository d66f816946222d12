import type { StepResult } from '@/core/pipeline/facts';
import { matchCounts } from '@/core/pipeline/match';
import { glimpseOf } from '@/core/value/glimpse';
import type { DocumentReading } from '@/core/reading/reading';
import type { factStatesOf } from '@/store/queries/runs';

type FactGlimpse = Awaited<ReturnType<typeof factStatesOf>>[number];

/** What became of a step, in a word or two for a cell of the run tally. */
export function glimpseText(fact: FactGlimpse): string {
  if (fact.state === 'failed') return `${fact.attempts} tries`;
  if (fact.state === 'waiting') return 'asked';
  if (fact.state === 'paused') return 'later';
  switch (fact.made as StepResult['made'] | null) {
    case 'findings':
      return fact.trusted === '1' || fact.trusted === 'true' ? 'sure' : 'look';
    case 'choice':
      return fact.name ?? '';
    case 'rows':
      return `${fact.rows} ${fact.rows === '1' ? 'row' : 'rows'}`;
    case 'answer':
      return 'answered';
    case 'no question':
      return 'straight';
    case 'kind':
      return fact.name ?? 'sorted';
    case 'reading':
      return 'read';
    case 'notes':
      return 'noted';
    case 'row':
      return 'found';
    case 'matches':
      return 'matched';
    case 'given':
      return 'answered';
    case 'lines':
      return 'each';
    case 'pause':
      return 'waited';
    case 'started':
      return 'started';
    case 'sent':
      return 'sent';
    case 'stop':
      return 'stopped';
    case null:
      return '';
  }
}

/** What a step made, in a few words for a cell of the pipeline tally. */
export function shortText(result: StepResult): string {
  const few = (values: Readonly<Record<string, string | null>>): string => Object.values(values).flatMap((value) => (value === null ? [] : [glimpseOf(value)])).slice(0, 2).join(', ');
  switch (result.made) {
    case 'kind':
      return result.name;
    case 'reading':
      return `${counted(filledIn(result.reading), 'field')}, ${result.reading.layout === null ? 'layout not known' : counted(rowsIn(result.reading), 'row')}`;
    case 'findings':
      return result.trusted ? 'sure' : `${result.doubts.length} to look at`;
    case 'no question':
      return 'straight on';
    case 'choice':
      return result.name;
    case 'row':
      return result.values === null ? 'not there' : few(result.values);
    case 'matches':
      return matchText(result);
    case 'notes':
    case 'given':
      return few(result.values) || 'nothing';
    case 'lines':
      return `${result.lines} ${result.lines === 1 ? 'line' : 'lines'}`;
    case 'pause':
      return `until ${result.until}`;
    case 'stop':
      return result.reason;
    case 'started':
      return 'would start it';
    case 'sent':
      return result.target === 'a file' ? 'would file it' : 'would send';
    case 'answer':
    case 'rows':
      return '';
  }
}

/** Rows that are named in one sentence, at most. */
const MOST_NAMED = 8;

const matchText = (result: Extract<StepResult, { made: 'matches' }>): string => {
  const { matched } = matchCounts(result);
  const alone = result.rows.flatMap(({ values }, index) => (values === null ? [index + 1] : []));
  return `${matched ?? '0'} of ${result.rows.length} matched${alone.length === 0 ? '' : `, with nothing ${alone.length === 1 ? 'row' : 'rows'} ${alone.slice(0, MOST_NAMED).join(', ')}${alone.length > MOST_NAMED ? ' …' : ''}`}`;
};
const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;
const filledIn = ({ fields }: DocumentReading): number => Object.values(fields).filter((cell) => cell.value !== null).length;
const rowsIn = ({ tables }: DocumentReading): number => Object.values(tables).reduce((sum, table) => sum + table.length, 0);

/** What services were paid. */
const costText = ({ costs = [] }: DocumentReading): string => (costs.length === 0 ? '' : ` ${costs.map((cost) => `${cost.service} (${cost.tier}) was asked for ${cost.amount} ${cost.currency}`).join(', ')}.`);

/** What a step made, in a sentence. */
export function resultText(result: StepResult, layoutName: (key: string) => string): string {
  switch (result.made) {
    case 'kind':
      return `${result.by ? `${result.by} says: ${result.name}` : `Sorted as ${result.name}`}${result.reasons[0] ? `: ${result.reasons[0]}` : ''}.`;
    case 'reading': {
      return result.reading.layout === null ? 'No known layout was recognised.' : `Recognised as a paper of ${layoutName(result.reading.layout)}: ${filledIn(result.reading)} fields and ${rowsIn(result.reading)} rows found.${costText(result.reading)}`;
    }
    case 'findings':
      return result.trusted ? 'Every check passes and every value is sure enough.' : `${result.doubts.length} ${result.doubts.length === 1 ? 'value needs' : 'values need'} a look: ${result.doubts.slice(0, 3).map((doubt) => doubt.label).join(', ')}${result.doubts.length > 3 ? ' …' : ''}.`;
    case 'no question':
      return 'Nothing to ask; went straight through.';
    case 'answer':
      return `Accepted by ${result.by}${result.changed.length > 0 ? `, ${result.changed.length} ${result.changed.length === 1 ? 'value' : 'values'} changed` : ' as it was'}${result.note ? `: ${result.note}` : ''}.`;
    case 'choice':
      return `Took the way “${result.name}”.`;
    case 'notes':
      return Object.entries(result.values).map(([name, value]) => `${name} = ${value === null ? 'nothing' : `“${value}”`}`).join(', ');
    case 'rows':
      return `Wrote ${result.rows} ${result.rows === 1 ? 'row' : 'rows'} to ${result.target}${result.left > 0 ? `, left out ${result.left} that ${result.left === 1 ? 'was' : 'were'} there already` : ''}.`;
    case 'row':
      return result.values === null ? 'It is not in the list; the run goes on without.' : `${result.by ? `${result.by} says: ` : 'Found: '}${valuesText(result.values)}.`;
    case 'matches':
      return `${result.by ? `${result.by} says: ` : ''}${matchText(result)}.`;
    case 'given':
      return `${result.by ? `${result.by} says: ` : ''}${valuesText(result.values) || 'Answered'}.`;
    case 'lines':
      return `${result.lines} ${result.lines === 1 ? 'line' : 'lines'} of ${result.of}.`;
    case 'pause':
      return 'Waited.';
    case 'started':
      return `Gave it to ${result.pipeline}.`;
    case 'sent':
      return `Sent: ${result.target}${result.by ? `; ${result.by} says that it arrived` : ''}${Object.keys(result.values).length > 0 ? `: ${valuesText(result.values)}` : ''}.`;
    case 'stop':
      return result.reason;
  }
}

/** Values that are shown in one line, at most. */
const MOST_VALUES = 4;

const valuesText = (values: Readonly<Record<string, string | null>>): string => Object.entries(values).filter(([, value]) => value !== null).slice(0, MOST_VALUES).map(([name, value]) => `${name} ${glimpseOf(value ?? '')}`).join(', ');
