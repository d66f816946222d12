import sharp from 'sharp';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { inspectFile } from './inspect';
import { unite } from './unite';

const blank = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#ffffff' } });

test('PDFs and pictures become one PDF, in their order and with their text and sizes', async () => {
  const bill = await printBill(makeBill(2));
  const picture = await blank(827, 1169).withMetadata({ density: 100 }).jpeg().toBuffer();
  const one = await unite([bill, picture, bill]);
  const { pages } = await inspectFile(one ?? Buffer.alloc(0));
  const alone = (await inspectFile(bill)).pages;
  expect(pages.map(({ words }) => words.map(({ text }) => text).join(' '))).toEqual([...alone, { words: [] }, ...alone].map(({ words }) => words.map(({ text }) => text).join(' ')));
  expect(pages[alone.length]).toMatchObject({ width: expect.closeTo(595.44, 0), height: expect.closeTo(841.68, 0) });
});
test('every page of a picture file with several is there', async () => {
  const tiff = await sharp([await blank(200, 300).png().toBuffer(), await blank(200, 300).png().toBuffer()], { join: { animated: true } }).tiff().toBuffer();
  const one = await unite([tiff, await printBill(makeBill(2))]);
  expect((await inspectFile(one ?? Buffer.alloc(0))).pages.length).toBe(2 + (await inspectFile(await printBill(makeBill(2)))).pages.length);
});
test.each([['a text', Buffer.from('Hello')], ['a PDF that is cut off', Buffer.from('%PDF-1.7\nnothing')], ['a picture that is none', Buffer.from('\xff\xd8\xff nothing', 'latin1')]])('%s cannot be put together with others', async (_, bytes) => {
  expect(await unite([await printBill(makeBill(2)), bytes])).toBeNull();
});
