import type { Condition, RowPlan, Step } from './definition';

/** A piece of a sentence; `pick` marks a part that a builder can pick. */
export interface SentencePart {
  readonly text: string;
  readonly pick?: true;
}

const say = (text: string): SentencePart => ({ text });
const pick = (text: string): SentencePart => ({ text, pick: true });

/** The name that people gave to what a key stands for. */
export type NameOf = (type: 'kind' | 'list', key: string) => string;

/** A step as a plain sentence. */
export function sentenceOf(step: Step, nameOf: NameOf = (_, key) => key): SentencePart[] {
  switch (step.do) {
    case 'read':
      return [say('Read the pages as '), pick(nameOf('kind', step.kind))];
    case 'check':
      return [say('Check it by the rules of its kind')];
    case 'desk':
      return [say('Ask the desk to review it, if '), pick(conditionText(step.when))];
    case 'branch':
      return [say('Choose a way: '), ...step.ways.flatMap((way, index) => [say(index === 0 ? '' : '; '), pick(way.name), say(` if ${conditionText(way.when)}`)]), say(step.else ? `; ${step.else.name ?? 'otherwise'}` : '')];
    case 'set':
      return [say('Note '), ...Object.entries(step.values).flatMap(([name, value], index) => [say(index === 0 ? '' : ', '), say(`${name} = `), pick(`“${value}”`)])];
    case 'write-list':
      return [say(`Write ${rowsText(step)} to the list `), pick(nameOf('list', step.list))];
    case 'write-workbook':
      return [say('Write to the workbook '), pick(step.file), say(': '), ...step.tabs.flatMap((tab, index) => [say(index === 0 ? '' : '; '), say(`${rowsText(tab)} on `), pick(tab.tab)])];
    case 'stop':
      return [say('Stop: '), pick(step.reason)];
  }
}

export const sentenceText = (step: Step, nameOf?: NameOf): string => sentenceOf(step, nameOf).map((part) => part.text).join('');

function rowsText(plan: RowPlan): string {
  const rows = plan.each === undefined ? 'one row' : `a row for each of its ${plan.each}`;
  return plan.unless === undefined ? rows : `${rows}, unless its ${plan.unless} is there`;
}

/** A condition as it would be said. */
export function conditionText(condition: Condition): string {
  if ('trusted' in condition) return condition.trusted ? 'every value is sure enough and no check fails' : 'a check fails or a value is not sure enough';
  if ('all' in condition) return condition.all.map(conditionText).join(' and ');
  if ('any' in condition) return condition.any.map(conditionText).join(' or ');
  return `${condition.value} is ${condition.is}${condition.than === undefined ? '' : ` ${condition.than}`}`;
}

/** A word or two for the head of a column in the run tally. */
export function shortName(step: Step): string {
  switch (step.do) {
    case 'read':
      return 'Read';
    case 'check':
      return 'Check';
    case 'desk':
      return 'Desk';
    case 'branch':
      return 'Branch';
    case 'set':
      return 'Note';
    case 'write-list':
      return 'List';
    case 'write-workbook':
      return 'Workbook';
    case 'stop':
      return 'Stop';
  }
}
