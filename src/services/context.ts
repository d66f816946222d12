import { definitionCache, newestVersion } from '@/store/queries/definitions';
import path from 'node:path';
import { folderBlobs, type Blobs } from '@/store/blobs';
import { openStore, type Store } from '@/store/database';
import { openSecretBox, type SecretBox } from '@/settings/secret';
import type { Settings } from '@/settings/settings';
import type { Actor } from '@/store/queries/audit';

/** What a use case works with. */
export interface Services {
  readonly settings: Settings;
  readonly store: Store;
  readonly blobs: Blobs;
  readonly secrets: () => SecretBox;
  readonly workbookFolder: string;
  readonly pinned: ReturnType<typeof definitionCache>;
  readonly kind: (key: string) => Promise<import('@/core/reading/kind').KindDefinition | null>;
}

/** The services of one process; the composition root of routes, CLI and worker. */
export function openServices(settings: Settings, connections?: number): Services {
  const store = openStore(settings.database, connections);
  const pinned = definitionCache(store.db);
  return {
    settings,
    store,
    blobs: folderBlobs(path.join(settings.dataFolder, 'blobs')),
    secrets: () => openSecretBox(settings.dataFolder),
    workbookFolder: path.join(settings.dataFolder, 'workbooks'),
    pinned,
    kind: async (key) => {
      const version = await newestVersion(store.db, 'kind', key);
      return version === null ? null : ((await pinned('kind', key, version))?.definition ?? null);
    },
  };
}

export const PROGRAM: Actor = { name: 'Leadline' };

/** A use case was asked for something it will not do. The sentence is for people; the code decides the HTTP status. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
  constructor(
    readonly code: 'not-found' | 'conflict' | 'bad-request' | 'too-large',
    message: string,
  ) {
    super(message);
  }
}
