import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { StepFailure } from '@/core/resilience/failure';
import { writeWhole } from '@/store/blobs';
import { alone, diskFailure, insist, type Exclusive } from '../disk';

/** Names that are tried when other documents have taken the first: "name (2)". */
const MOST_NAMES = 100;

/**
 * Put bytes under a name into a folder. The same bytes under the same name are there already, however often it is done; other bytes
 * are never overwritten: then a number is added. Returns the name.
 */
export function putFile(folder: string, name: string, bytes: Buffer, exclusive: Exclusive): Promise<string> {
  return alone(path.join(folder, name), exclusive, async (held) => {
    for (let number = 1; number <= MOST_NAMES; number += 1) {
      const candidate = number === 1 ? name : numbered(name, number);
      const file = path.join(folder, candidate);
      const there = await readFile(file).catch((error: { code?: string }) => (error.code === 'ENOENT' ? null : Promise.reject(diskFailure(file, error))));
      if (there?.equals(bytes)) return candidate;
      if (there) continue;
      await insist(held, file);
      await writeWhole(file, bytes).catch((error: unknown) => Promise.reject(diskFailure(file, error)));
      return candidate;
    }
    throw new StepFailure('name-taken', `${MOST_NAMES} other files are called “${name}”. Put more into the name, for example a number of the document, then refloat`);
  });
}

function numbered(name: string, number: number): string {
  const { name: stem, ext } = path.parse(name);
  return `${stem} (${number})${ext}`;
}
