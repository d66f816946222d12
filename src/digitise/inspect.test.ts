import { execFileSync } from 'node:child_process';
import PDFDocument from 'pdfkit';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { inspectFile } from './inspect';
import { LIMITS } from './limits';
import { drawPdfPage } from './pdf';
import { run } from './run';

function pdf(draw: (document: PDFKit.PDFDocument) => void, options: PDFKit.PDFDocumentOptions = {}): Promise<Buffer> {
  const document = new PDFDocument({ size: 'A6', ...options });
  const chunks: Buffer[] = [];
  return new Promise((resolve) => {
    document.on('data', (chunk: Buffer) => chunks.push(chunk));
    document.on('end', () => resolve(Buffer.concat(chunks)));
    draw(document);
    document.end();
  });
}

const problemOf = async (bytes: Buffer) => (await inspectFile(bytes)).problem;
const bill = () => printBill(makeBill(2));

describe(inspectFile, () => {
  test('gives the words of every page with their boxes', async () => {
    const { problem, pageCount, pages } = await inspectFile(await bill());
    expect([problem, pageCount]).toEqual([null, 1]);
    const word = pages[0]?.words.find(({ text }) => text === 'MH-104002');
    expect(word?.box[0]).toBeGreaterThan(480);
    expect(word?.box[2]).toBeCloseTo(547, 0);
  });

  test('an empty file', async () => expect(await problemOf(Buffer.alloc(0))).toMatchObject({ code: 'empty' }));
  test('a file of another format is told for what it is, and what would do', async () => {
    expect(await problemOf(Buffer.from('PK\x03\x04....', 'latin1'))).toEqual({ code: 'unknown-format', text: 'This is a packed or office file, which cannot be read. PDF, PNG, JPEG, TIFF, mails, e-invoices and plain text are. Ask for one of these. The original is kept.' });
    expect((await problemOf(Buffer.from([0, 1, 2, 3])))?.text).toContain('a file of an unknown kind');
  });
  test('a picture that is damaged', async () => {
    expect(await problemOf(Buffer.from('\x89PNG\r\n\x1a\n....', 'latin1'))).toMatchObject({ code: 'damaged', text: expect.stringContaining('The picture is damaged') });
  });
  test('a file larger than the limit', async () => {
    const large = Buffer.alloc(LIMITS.fileBytes + 1);
    large.write('%PDF-1.4');
    expect(await problemOf(large)).toMatchObject({ code: 'too-large', text: expect.stringContaining('25.0 MB are read') });
  });
  test('a file cut in the middle', async () => {
    const whole = await bill();
    expect(await problemOf(whole.subarray(0, Math.floor(whole.length / 2)))).toMatchObject({ code: 'truncated' });
  });
  test('a file that only begins like a PDF', async () => {
    expect(await problemOf(Buffer.from(`%PDF-1.4\n${'x'.repeat(5000)}\n%%EOF`))).toMatchObject({ code: 'damaged' });
  });
  test('a file locked with a password', async () => {
    const locked = await pdf((document) => document.text('secret'), { userPassword: 'x', ownerPassword: 'y' });
    expect(await problemOf(locked)).toEqual({ code: 'encrypted', text: 'The file is locked with a password. Ask the sender for one without. The original is kept.' });
  });
  test('a file without pages', async () => {
    const none = '%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[]/Count 0>>endobj\nxref\n0 3\n0000000000 65535 f \n0000000009 00000 n \n0000000052 00000 n \ntrailer<</Size 3/Root 1 0 R>>\nstartxref\n96\n%%EOF\n';
    expect(await inspectFile(Buffer.from(none))).toMatchObject({ pageCount: 0, problem: { code: 'no-pages' } });
  });
  test('a thousand pages', async () => {
    const long = await pdf((document) => { for (let page = 2; page <= 1000; page += 1) document.addPage().text(String(page)); });
    expect(await inspectFile(long)).toMatchObject({ pageCount: 1000, pages: [], problem: { code: 'too-many-pages', text: expect.stringContaining('1,000 pages; up to 200') } });
  });
  test('a page without text', async () => {
    expect(await inspectFile(await pdf((document) => document.rect(10, 10, 50, 50).fill()))).toMatchObject({ pageCount: 1, problem: { code: 'no-text' } });
  });
  test('a page as long as a street', async () => {
    expect(await problemOf(await pdf((document) => document.text('x'), { size: [300, 9000] }))).toMatchObject({ code: 'page-too-large' });
  });
  test('any bytes after the mark give a finding, never an exception', async () => {
    const whole = await bill();
    for (let seed = 1; seed <= 12; seed += 1) {
      const spoilt = Buffer.from(whole);
      for (let at = 100; at < spoilt.length; at += 61 * seed) spoilt[at] = (at * seed) % 256;
      await expect(inspectFile(spoilt)).resolves.toHaveProperty('pageCount');
    }
  });
});

describe(drawPdfPage, () => {
  test('draws a page in the size asked for', async () => {
    const picture = await drawPdfPage(await bill(), 1, 72);
    expect([picture.readUInt32BE(16), picture.readUInt32BE(20)]).toEqual([596, 842]);
  });
  test('says which page cannot be drawn', async () => {
    await expect(drawPdfPage(await bill(), 9, 72)).rejects.toThrow('Page 9 could not be drawn');
  });
});

describe(run, () => {
  const limits = { deadlineMs: 300, outputBytes: 1000 };
  test('ends a program that takes too long', async () => expect(await run('sleep', ['5'], null, limits)).toMatchObject({ ended: 'too long' }));
  test('ends a program that says too much', async () => expect(await run('yes', [], null, { ...limits, deadlineMs: 5000 })).toMatchObject({ ended: 'too much' }));
  test('takes arguments as they are, whatever a shell would make of them', async () => {
    const { stdout } = await run('printf', ['%s', '$(id); `id` "x"'], null, limits);
    expect(stdout.toString()).toBe('$(id); `id` "x"');
    expect(execFileSync('echo', ['still here'], { encoding: 'utf8' })).toBe('still here\n');
  });
  test('says which package a missing program comes with', async () => {
    await expect(run('pdf-no-such-program', [], null, limits)).rejects.toThrow('poppler-utils');
  });
});
