import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { newId } from './identifier';
import { seededChance } from './random';
import { openSecretBox } from './secret';
import { resolveSettings } from './settings';

let folder = '';
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-settings-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe(openSecretBox, () => {
  test('seals and opens with the same key file, never twice the same', () => {
    const [box, same] = [openSecretBox(folder), openSecretBox(folder)];
    const sealed = box.seal('herring');
    expect([same.open(sealed), sealed.includes('herring'), sealed.equals(box.seal('herring'))]).toEqual(['herring', false, false]);
  });
  test('says what to do when the key is another one, or a byte was changed', () => {
    const sealed = openSecretBox(folder).seal('herring');
    sealed[14]! ^= 1;
    expect(() => openSecretBox(folder).open(sealed)).toThrow('enter the secret again');
  });
});

describe(resolveSettings, () => {
  test('takes the database from the environment, or from the file that the start leaves', () => {
    expect(resolveSettings({ LEADLINE_DATA: folder, LEADLINE_DATABASE_URL: 'mysql://a:b%40@h:3307/n' }).database).toEqual({ host: 'h', port: 3307, user: 'a', password: 'b@', name: 'n' });
    writeFileSync(path.join(folder, 'database.json'), JSON.stringify({ url: 'mysql://u:p@127.0.0.1:1/leadline' }));
    expect(resolveSettings({ LEADLINE_DATA: folder }).database.name).toBe('leadline');
  });
  test('says what to do when neither is there', () => {
    expect(() => resolveSettings({ LEADLINE_DATA: folder })).toThrow('npm run demo');
  });
});

describe('chance and identifiers', () => {
  test('the same seed gives the same sequence, another seed another', () => {
    const draw = (seed: number) => Array.from({ length: 3 }, seededChance(seed));
    expect(draw(1)).toEqual(draw(1));
    expect(draw(1)).not.toEqual(draw(2));
  });
  test('identifiers made later sort later', () => {
    const ids = Array.from({ length: 100 }, newId);
    expect([...ids].sort()).toEqual(ids);
  });
});
