import { createHash } from 'node:crypto';
import { mkdir, open, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { newId } from '@/settings/identifier';

/** Bytes kept under their own SHA-256. Writing the same twice keeps one. */
export interface Blobs {
  /** Returns the SHA-256 in hexadecimal, after the bytes are on disk. */
  put(bytes: Buffer): Promise<string>;
  get(sha256: string): Promise<Buffer>;
  /** Something made from a blob that can be made again, such as a picture of a page; null when not there. */
  getDerived(sha256: string, name: string): Promise<Buffer | null>;
  putDerived(sha256: string, name: string, bytes: Buffer): Promise<void>;
  /** The blob and everything made from it; nothing happens where it is not there. */
  remove(sha256: string): Promise<void>;
}

export const sha256Of = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Blobs in a folder of the local disk. Files appear whole (written aside, synced, renamed) or not at all. */
export function folderBlobs(folder: string): Blobs {
  const place = (sha256: string, kind: string): string => {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new Error(`“${sha256.slice(0, 70)}” is no SHA-256`);
    return path.join(folder, kind, sha256.slice(0, 2), sha256.slice(2));
  };
  return {
    async put(bytes) {
      const sha256 = sha256Of(bytes);
      const file = place(sha256, 'originals');
      if (!(await exists(file))) await writeWhole(file, bytes);
      return sha256;
    },
    get: (sha256) => readFile(place(sha256, 'originals')),
    async getDerived(sha256, name) {
      const file = path.join(place(sha256, 'derived'), path.basename(name));
      return (await exists(file)) ? readFile(file) : null;
    },
    putDerived: (sha256, name, bytes) => writeWhole(path.join(place(sha256, 'derived'), path.basename(name)), bytes),
    async remove(sha256) {
      for (const kind of ['originals', 'derived']) await rm(place(sha256, kind), { recursive: true, force: true });
    },
  };
}

const exists = (file: string): Promise<boolean> => stat(file).then(() => true, () => false);

/** Write a file so that a crash leaves the old one or the new one, never half of it. Where it fails, nothing is left lying about. */
export async function writeWhole(file: string, bytes: Buffer): Promise<void> {
  await mkdir(path.dirname(file), { recursive: true });
  const aside = `${file}.${newId()}.part`;
  try {
    const handle = await open(aside, 'wx');
    try {
      await handle.writeFile(bytes);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(aside, file);
  } catch (error) {
    await rm(aside, { force: true });
    throw error;
  }
}
