import sharp from 'sharp';
import { agreement } from './hidden-text';
import { formatOf, nameOfFormat } from './format';
import { drawTyped } from './draw-typed';
import { inspectFile } from './inspect';
import { merged } from './recognise';
import { cleanUp, withoutRules, ALL_CLEAN, type Picture } from './picture';
import { typeset } from './typeset';

const wordsOf = (page: { words: readonly { text: string }[] }) => page.words.map((word) => word.text).join(' ');

describe(formatOf, () => {
  test.each([['%PDF-1.7', 'pdf'], ['\x89PNG\r\n\x1a\n', 'picture'], ['II*\x00', 'picture'], ['<?xml version="1.0"?><a/>', 'xml'], ['Good day', 'text'], ['PK\x03\x04', null], ['\x00\x01', null]])('%j is %s', (head, format) => expect(formatOf(Buffer.from(head, 'latin1'))).toBe(format));
  test('what cannot be read has a name', () => expect(nameOfFormat(Buffer.from('GIF89a'))).toBe('a GIF picture'));
});

describe(typeset, () => {
  test('words stand where they stand in their line; form feeds and tabs count', () => {
    const [first, second] = typeset('a   b\n\tc\f d');
    expect([wordsOf(first!), wordsOf(second!)]).toEqual(['a b c', 'd']);
    expect(first!.words.map((word) => (word.box[0] - 40) / 6)).toEqual([0, 4, 8]);
  });
});

describe(inspectFile, () => {
  const mail = (type: string, body: string) => Buffer.from(`From: Aud <aud@boats.example>\r\nTo: office@skarrow.example\r\nSubject: Slip\r\nDate: Mon, 02 Mar 2026 10:00:00 +0000\r\nMIME-Version: 1.0\r\nContent-Type: ${type}; charset=utf-8\r\n\r\n${body}`);

  test('a mail is a page: sender, subject and date, then its text', async () => {
    const { pages: [page], problem } = await inspectFile(mail('text/plain', 'Boat: Gannet\r\n'));
    expect([problem, page!.origin, wordsOf(page!)]).toEqual([null, 'typed', 'From: "Aud" <aud@boats.example> To: office@skarrow.example Date: 2026-03-02 Subject: Slip Boat: Gannet']);
  });

  test('a table in a mail of HTML keeps its columns', async () => {
    const { pages: [page] } = await inspectFile(mail('text/html', '<table><tr><th>Fish</th><th>Boxes</th></tr><tr><td>Cod</td><td>7</td></tr></table>'));
    const at = (text: string) => page!.words.find((word) => word.text === text)!.box[0];
    expect(at('Boxes')).toBe(at('7'));
    expect(at('Fish')).toBe(at('Cod'));
  });

  test('a picture without any text is told', async () => {
    const white = await sharp({ create: { width: 600, height: 800, channels: 3, background: '#fff' } }).png().toBuffer();
    expect((await inspectFile(white)).problem).toMatchObject({ code: 'no-text', text: expect.stringContaining('none was recognised in a picture') });
  }, 60_000);
});

describe(agreement, () => {
  const words = (text: string) => text.split(' ').map((word) => ({ text: word, box: [0, 0, 1, 1] as const }));
  test('is the share of hidden words that the picture shows too', () => expect([agreement(words('Total due 12.00'), words('total: DUE 12.00')), agreement(words('Txtxl dxx 77.77'), words('Total due 12.00')), agreement([], words('a'))]).toEqual([1, 0, 0]));
});

describe(merged, () => {
  const word = (text: string, x: number, sure: number) => ({ text, sure, box: [x, 0, x + 10, 10] as const });
  test('the surer of two words at a place stays, words that one pass saw are added', () => {
    expect(merged([word('df', 0, 0.3), word('Ice', 40, 0.95)], [word('7', 1, 0.9), word('lce', 41, 0.96), word('5', 80, 0.9), word('~', 120, 0.2)]).map((one) => one.text)).toEqual(['7', 'Ice', '5']);
  });
});

describe('cleaning a picture', () => {
  const grey = (width: number, height: number, at: (x: number, y: number) => number): Picture => ({ width, height, dpi: 200, dots: Buffer.from(Array.from({ length: width * height }, (_, index) => at(index % width, Math.floor(index / width)))) });

  test('ruled lines go, letters stay', () => {
    const picture = grey(300, 200, (x, y) => (y === 100 || x === 150 ? 40 : x > 20 && x < 30 && y > 20 && y < 40 ? 20 : 255));
    const { dots } = withoutRules(picture);
    expect([dots[100 * 300 + 10], dots[50 * 300 + 150], dots[30 * 300 + 25]]).toEqual([255, 255, 20]);
  });

  test('a shadow over half of the page becomes white, what is printed in it stays dark', async () => {
    const picture = grey(400, 400, (x, y) => (y % 40 < 6 && x % 60 < 30 ? 30 : x < 200 ? 150 : 245));
    const { dots } = await cleanUp(picture, { ...ALL_CLEAN, deskew: false });
    expect(dots[20 * 400 + 50]).toBeGreaterThan(235);
    expect(dots[2 * 400 + 70]).toBeLessThan(90);
  });

  test('lines that fall to the right are set straight', async () => {
    const slope = Math.tan((2 * Math.PI) / 180);
    const picture = grey(900, 900, (x, y) => { const row = (y - x * slope + 2000) % 30; return row < 8 && Math.floor(x / 9) % 3 !== 0 && x > 60 && x < 840 ? 20 : 255; });
    expect((await cleanUp(picture, ALL_CLEAN)).skew).toBeCloseTo(2, 0);
  });
});

test('a typed page is drawn with harmless words', () => {
  const [page] = typeset('<script>alert(1)</script>');
  expect(drawTyped(page!).toString()).not.toContain('<script');
});
