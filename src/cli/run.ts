import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { checkDocument } from '@/core/checking/check';
import { parsePipeline } from '@/core/definition/parse';
import { eachStep } from '@/core/pipeline/definition';
import { sentenceText } from '@/core/pipeline/catalogue';
import { bareKey } from '@/core/list/find-key';
import { tryOut, type TriedStep } from '@/core/pipeline/try-out';
import { readWithAids } from '@/core/reading/read-with-aids';
import { sortDocument } from '@/core/sorting/sort';
import { trainSorter } from '@/core/sorting/sorter';
import { inspectFile } from '@/digitise/inspect';
import { listsFrom, localAids } from './aids';
import { cleanUpOf, kindFrom } from './read';

/** Send a file through a pipeline without writing anything. Exit code: 0 straight through, 1 somebody would be asked or a step fails, 2 it could not be done. */
export async function dryRun(pipelineFile: string, file: string, options: { readonly list: readonly string[]; readonly json?: boolean }): Promise<number> {
  const parsed = parsePipeline(readFileSync(pipelineFile, 'utf8'));
  if (!parsed.ok) throw new Error(parsed.mistakes.map((mistake) => `${pipelineFile}:${mistake.line}:${mistake.column}: ${mistake.text}`).join('\n'));
  const { definition } = parsed;
  const bytes = readFileSync(file);
  const first = await inspectFile(bytes);
  if (first.problem) {
    console.log(options.json ? JSON.stringify({ file, problem: first.problem }, null, 2) : `${file}: ${first.problem.text}`);
    return 2;
  }
  const lists = await listsFrom(options.list);
  const listAtHand = (key: string) => {
    const list = lists.get(key);
    if (!list) throw new Error(`The list “${key}” is not at hand. Give it with --list ${key}=FILE.`);
    return list;
  };
  // Kinds stand beside the pipelines: ./kinds, demo/kinds, or the folder of the pipeline and its neighbours.
  const kindOf = (key: string) => kindFrom([path.join(path.dirname(pipelineFile), `${key}.yaml`), path.join(path.dirname(pipelineFile), '../kinds', `${key}.yaml`)].find(existsSync) ?? key);
  const tried = await tryOut(definition, { id: path.basename(file), fileName: path.basename(file), receivedAt: '', sender: null }, {
    kind: async (key) => kindOf(key),
    sort: async (kinds, sure) => {
      if (kinds === null) throw new Error('Without a server only kinds that the step names can be told apart. Name them under “kinds”.');
      return sortDocument({ pages: first.pages, sender: null, subject: null }, kinds.map(kindOf), trainSorter([]), lists, sure);
    },
    read: async (kind) => {
      const { pages, pictures } = kind.cleanUp ? await inspectFile(bytes, cleanUpOf(kind)) : first;
      return (await readWithAids(pages, kind, localAids({ pages, pictures }, lists))).reading;
    },
    row: async (step, value) => {
      const list = listAtHand(step.list);
      return list.rows.find((row) => bareKey(row[step.column ?? list.keyColumn] ?? '') === bareKey(value ?? '')) ?? null;
    },
    rows: async (key, where) => listAtHand(key).rows.filter((row) => where === null || bareKey(row[where.column] ?? '') === bareKey(where.value ?? '')),
    call: async (step) => {
      throw new Error(`“${step.connection}” cannot be asked without a server; its connections and their secrets are kept there.`);
    },
    asks: true,
    came: async () => null,
    kept: async () => null,
    findings: async (kind, readings, layout) => checkDocument({ kind: { ...kind, checks: kind.checks.filter((check) => check.check !== 'in-list' || lists.has(check.list)) }, layout, readings, pages: first.pages, lists }),
  });
  if (options.json) console.log(JSON.stringify({ file, pipeline: definition.key, ...tried }, null, 2));
  else for (const { step } of eachStep(definition.steps)) say(sentenceText(step), tried.steps.find((one) => one.step === step.id));
  return tried.straight ? 0 : 1;
}

function say(sentence: string, tried: TriedStep | undefined): void {
  if (!tried) return;
  console.log(`${tried.state.padEnd(12)} ${sentence}${tried.reason ? `\n             ${tried.reason}` : ''}`);
  for (const { target, rows } of tried.writes) for (const row of rows) console.log(`             ${target}: ${Object.entries(row).map(([column, { value }]) => `${column} ${value ?? '–'}`).join(' · ')}`);
}
