import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { checkDocument } from '@/core/checking/check';
import { doubtsOf, isTrusted } from '@/core/checking/trust';
import { parseKind } from '@/core/definition/parse';
import { hocrOf } from '@/core/page/hocr';
import { layoutText } from '@/core/page/layout-text';
import { readWithAids } from '@/core/reading/read-with-aids';
import type { KindDefinition } from '@/core/reading/kind';
import { inspectFile } from '@/digitise/inspect';
import { ALL_CLEAN, type CleanUp } from '@/digitise/picture';
import { listsFrom, localAids } from './aids';

/** Read one file and print what was found. Returns the exit code: 0 straight through, 1 needs a look, 2 cannot be read. */
export async function readFile(file: string, options: { readonly kind: string; readonly list: readonly string[]; readonly json?: boolean }): Promise<number> {
  const kind = kindFrom(options.kind);
  const { problem, pages, pictures } = await inspectFile(readFileSync(file), cleanUpOf(kind));
  if (problem) {
    console.log(options.json ? JSON.stringify({ file, problem }, null, 2) : `${file}: ${problem.text}`);
    return 2;
  }
  const { reading, aids } = await readWithAids(pages, kind, localAids({ pages, pictures }, await listsFrom(options.list)));
  const findings = checkDocument({ kind: answerable(kind, aids.lists), layout: reading.layout, readings: reading, pages, lists: aids.lists });
  const trusted = isTrusted(kind, reading, findings);
  const { fields, tables, layout, misses } = reading;
  if (options.json) console.log(JSON.stringify({ file, kind: kind.key, layout, misses, trusted, fields, tables, findings, doubts: doubtsOf(kind, reading, findings), pages: pages.map(({ number, width, height, origin, why }) => ({ number, width, height, origin, why })) }, null, 2));
  else {
    for (const field of kind.fields) console.log(`${field.label.padEnd(20)} ${(fields[field.key]?.value ?? '–').padEnd(34)} ${Math.round((fields[field.key]?.confidence ?? 0) * 100)}`);
    for (const table of kind.tables) console.log(`${table.label.padEnd(20)} ${tables[table.key]?.length ?? 0} rows`);
    for (const finding of findings) console.log(`${finding.severity}: ${finding.text}`);
  }
  return trusted ? 0 : 1;
}

/** Lists that were not given are not looked into. */
const answerable = (kind: KindDefinition, lists: ReadonlyMap<string, unknown>): KindDefinition => ({ ...kind, checks: kind.checks.filter((check) => check.check !== 'in-list' || lists.has(check.list)) });

/** The steps of cleaning that the kind leaves on. */
export const cleanUpOf = (kind: KindDefinition): CleanUp => ({ ...ALL_CLEAN, ...kind.cleanUp });

export function kindFrom(name: string): KindDefinition {
  const places = [name, path.join('kinds', `${name}.yaml`), path.join('demo', 'kinds', `${name}.yaml`)];
  const place = places.find((candidate) => existsSync(candidate));
  if (!place) throw new Error(`There is no kind “${name}”. Looked at: ${places.join(', ')}.`);
  const parsed = parseKind(readFileSync(place, 'utf8'));
  if (!parsed.ok) throw new Error(parsed.mistakes.map((mistake) => `${place}:${mistake.line}:${mistake.column}: ${mistake.text}`).join('\n'));
  return parsed.definition;
}

/** Print what stands on the pages of a file. Exit code 2 when it cannot be read. */
export async function printText(file: string, options: { readonly hocr?: boolean }): Promise<number> {
  const { problem, pages } = await inspectFile(readFileSync(file));
  console.log(problem ? `${file}: ${problem.text}` : options.hocr ? hocrOf(path.basename(file), pages) : pages.map((page) => layoutText(page).text).join('\n\f\n'));
  return problem ? 2 : 0;
}
