import { test as base, expect, type Page } from '@playwright/test';
import { makeBill, type Oddity } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import { billLetter, postman, type Letter } from '../../demo/mail';

export const url = (path: string): string => `${process.env['LEADLINE_TEST_URL'] ?? ''}${path}`;
export const post = (letter: Letter): Promise<void> => postman(Number(process.env['LEADLINE_TEST_SMTP']))(letter);

/** A bill as file, with its true values. */
export async function bill(seed: number, oddity: Oddity = 'none') {
  const made = makeBill(seed, oddity);
  const pdf = await printBill(made);
  const letter = billLetter(made, pdf);
  return { bill: made, pdf, letter, name: letter.attachments[0]?.filename ?? '' };
}

/** A page on which an error in the console, or one that nobody caught, fails the test. */
export const test = base.extend<{ page: Page }>({
  page: async ({ page }, use) => {
    const errors: string[] = [];
    page.on('pageerror', (error) => errors.push(error.message));
    // An answer of our own server that says no is shown to people and no mistake of the page.
    page.on('console', (message) => message.type() === 'error' && !/Failed to load resource|ERR_/.test(message.text()) && errors.push(message.text()));
    await use(page);
    expect(errors).toEqual([]);
  },
});

/** Let files fall on the page, as from a folder beside the browser. */
export async function drop(page: Page, files: readonly { name: string; bytes: Buffer }[]): Promise<void> {
  const transfer = await page.evaluateHandle((given) => {
    const data = new DataTransfer();
    for (const { name, base64 } of given) data.items.add(new File([Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))], name, { type: name.endsWith('.pdf') ? 'application/pdf' : 'text/plain' }));
    return data;
  }, files.map(({ name, bytes }) => ({ name, base64: bytes.toString('base64') })));
  const room = page.getByRole('heading', { level: 1 });
  for (const event of ['dragenter', 'dragover', 'drop']) await room.dispatchEvent(event, { dataTransfer: transfer });
}

/** Let bills fall on the intake and choose the pipeline for them. */
export async function dropBills(page: Page, files: readonly { name: string; bytes: Buffer }[], pipeline = 'Haulage to ledger'): Promise<void> {
  await drop(page, files);
  await page.getByRole('dialog').getByRole('button', { name: new RegExp(pipeline) }).click();
}

export const rowOf = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });
export { expect };
