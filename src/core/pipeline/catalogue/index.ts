import type { Step, StepKind } from '../definition';
import { approve, ask, desk, wait } from './ask';
import type { NameOf, SentencePart, StepEntry } from './entry';
import { branch, each, set, start, stop } from './flow';
import { call, send } from './http';
import { lookUp } from './look-up';
import { match } from './match';
import { check, read, sort } from './read';
import { tool } from './tool';
import { mail, writeCsv, writeFile, writeList, writeTable, writeWorkbook } from './write';

export const CATALOGUE: { readonly [K in StepKind]: StepEntry<Extract<Step, { do: K }>> } = {
  sort, read, check, 'look-up': lookUp, match, set, call, desk, ask, approve, wait, branch, each, start, stop,
  'write-list': writeList, 'write-workbook': writeWorkbook, 'write-csv': writeCsv, 'write-table': writeTable, 'write-file': writeFile, send, tool, mail,
};

export const STEP_KINDS = Object.keys(CATALOGUE) as StepKind[];

/** The entry of a step; the one place where the type of the step and that of its entry are put together. */
export const entryOf = (step: Step): StepEntry => CATALOGUE[step.do] as unknown as StepEntry;

/** A step as a plain sentence. */
export function sentenceOf(step: Step, nameOf: NameOf = (_, key) => key): SentencePart[] {
  const parts = entryOf(step).sentence(step, nameOf);
  return step.off ? [{ text: '(off) ' }, ...parts] : parts;
}

export const sentenceText = (step: Step, nameOf?: NameOf): string => sentenceOf(step, nameOf).map((part) => part.text).join('');

/** A word or two for the head of a column in the run tally. */
export const shortName = (step: Step): string => entryOf(step).name;
export type { NameOf, SentencePart, Surroundings } from './entry';
