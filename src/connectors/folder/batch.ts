import Joi from 'joi';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { MOST_IN_BATCH, type BatchPlace, type Waiting } from '../batch';
import { filesIn, plainTrouble, takeFile } from './files';

interface FolderPlace {
  readonly path: string;
  readonly doneFolder: string;
}

/** The files of a folder, taken one by one; taken ones are moved to the subfolder. */
export const folderPlace: BatchPlace<FolderPlace> = {
  key: 'folder',
  schema: Joi.object<FolderPlace>({ path: Joi.string().max(1000).required().label('Folder'), doneFolder: Joi.string().max(100).pattern(/^[^/\\]+$/).default('taken') }).unknown(),
  async waiting(settings) {
    const names = await reached(settings);
    const found = await Promise.all(names.slice(0, MOST_IN_BATCH).map((name) => lookAt(settings.path, name)));
    return found.filter((one) => one !== null).sort((a, b) => (a.at ?? '').localeCompare(b.at ?? '') || a.name.localeCompare(b.name));
  },
  async take({ settings, refs, emit, fail, signal }) {
    // A folder that is away is no reason to think that its files are gone.
    await reached(settings);
    for (const name of refs) {
      if (signal.aborted) return;
      // A name from outside must not lead out of the folder.
      if (path.basename(name) !== name || (await lookAt(settings.path, name)) === null) await fail(name, 'The file is not in the folder any more.');
      else await takeFile(settings, name, (arrival) => emit(name, arrival));
    }
  },
};

const reached = (settings: FolderPlace): Promise<string[]> => filesIn(settings.path).catch((error: unknown) => Promise.reject(new Error(plainTrouble(settings, error), { cause: error })));

async function lookAt(folder: string, name: string): Promise<Waiting | null> {
  const facts = await stat(path.join(folder, name)).catch(() => null);
  return facts && { ref: name, name, size: facts.size, at: facts.mtime.toISOString() };
}
