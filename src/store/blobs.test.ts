import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { folderBlobs, sha256Of, writeWhole } from './blobs';

const folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-blobs-'));
afterAll(() => rmSync(folder, { recursive: true }));
const blobs = folderBlobs(folder);

describe(folderBlobs, () => {
  test('keeps bytes under their hash, once', async () => {
    const [one, again] = await Promise.all([blobs.put(Buffer.from('abc')), blobs.put(Buffer.from('abc'))]);
    // FIPS 180-4, example for SHA-256 of "abc".
    expect([one, again]).toEqual(Array(2).fill('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad'));
    expect((await blobs.get(one)).toString()).toBe('abc');
    expect(readdirSync(path.join(folder, 'originals', 'ba'))).toHaveLength(1);
  });
  test('keeps what was made from a blob beside it', async () => {
    const sha256 = sha256Of(Buffer.from('abc'));
    expect(await blobs.getDerived(sha256, 'page-1.png')).toBeNull();
    await blobs.putDerived(sha256, 'page-1.png', Buffer.from('png'));
    expect((await blobs.getDerived(sha256, 'page-1.png'))?.toString()).toBe('png');
  });
  test('takes nothing but a hash for an address', async () => {
    await expect(async () => blobs.get('../../secret.key')).rejects.toThrow('is no SHA-256');
  });
});

test('what could not be written leaves nothing lying about', async () => {
  const place = path.join(folder, 'taken');
  mkdirSync(path.join(place, 'name', 'not-empty'), { recursive: true });
  await expect(writeWhole(path.join(place, 'name'), Buffer.from('x'))).rejects.toThrow();
  expect(readdirSync(place)).toEqual(['name']);
});
