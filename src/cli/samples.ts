import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Truth } from '@/core/measuring/compare';
import type { Sample } from '@/core/teaching/sample';
import { inspectFile } from '@/digitise/inspect';
import { ALL_CLEAN, type CleanUp } from '@/digitise/picture';

/** A sample with the cleaned pictures of pages that were read from one. */
export interface LoadedSample extends Sample {
  readonly pictures: ReadonlyMap<number, Buffer>;
}

const DOCUMENT = /\.(?:pdf|png|jpe?g|tiff?|xml|eml|txt)$/i;

/** A document of a folder of samples, and why it could not be used, if so. */
export interface LoadedSamples {
  readonly samples: readonly LoadedSample[];
  readonly problems: readonly { readonly name: string; readonly text: string }[];
}

/** `NAME.pdf|png|tiff|xml|eml` beside `NAME.truth.json`. Files without a truth are left out; what is wrong with one is told and the rest goes on. */
export async function loadSamples(folder: string, cleanUp: CleanUp = ALL_CLEAN): Promise<LoadedSamples> {
  if (!existsSync(folder)) throw new Error(`There is no folder “${folder}”.`);
  const names = readdirSync(folder).filter((name) => DOCUMENT.test(name) && existsSync(truthFile(folder, name))).sort();
  if (names.length === 0) throw new Error(`“${folder}” holds no samples: documents (pdf, png, jpg, tiff, xml, eml, txt), each beside its NAME.truth.json.`);
  const samples: LoadedSample[] = [];
  const problems: { name: string; text: string }[] = [];
  const loaded = await Promise.all(names.map(async (name) => loadSample(folder, name, cleanUp)));
  for (const one of loaded) if ('text' in one) problems.push(one);
  else samples.push(one);
  return { samples, problems };
}

const truthFile = (folder: string, name: string): string => path.join(folder, `${name.replace(/\.[^.]+$/, '')}.truth.json`);

async function loadSample(folder: string, name: string, cleanUp: CleanUp): Promise<LoadedSample | { name: string; text: string }> {
  const truth = truthFrom(readFileSync(truthFile(folder, name), 'utf8'));
  if (typeof truth === 'string') return { name, text: `${path.basename(truthFile(folder, name))}: ${truth}` };
  const { pages, pictures, problem } = await inspectFile(readFileSync(path.join(folder, name)), cleanUp);
  return problem ? { name, text: `${name}: ${problem.text}` } : { name, pages, pictures, truth };
}

/** A truth file; a sentence when it is none. Numbers and yes/no may be given as such. */
export function truthFrom(text: string): Truth | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return `is not JSON: ${(error as Error).message.slice(0, 120)}.`;
  }
  const { fields, tables } = (value ?? {}) as { fields?: unknown; tables?: unknown };
  if (typeof fields !== 'object' && typeof tables !== 'object') return 'needs “fields” or “tables”.';
  return { fields: plainValues(fields), tables: Object.fromEntries(Object.entries((tables ?? {}) as Record<string, unknown>).map(([key, rows]) => [key, (Array.isArray(rows) ? rows : []).map(plainValues)])) };
}

const plainValues = (values: unknown): Record<string, string | null> => Object.fromEntries(Object.entries((values ?? {}) as Record<string, unknown>).map(([key, value]) => [key, value === null || value === undefined || value === '' ? null : value === true ? 'yes' : value === false ? 'no' : String(value)]));
