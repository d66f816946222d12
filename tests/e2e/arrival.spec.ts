import ExcelJS from 'exceljs';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { shownAmount } from '@/core/value/amount';
import { emptyLetter } from '../../demo/mail';
import { bill, dropBills, expect, post, rowOf, test, url } from './support';

test('a file dropped on the page becomes a row that leads back to its place, and is exported', async ({ page }) => {
  const { bill: truth, pdf, name } = await bill(2);
  await page.goto(url('/intake'));
  await expect(page.getByText('Nothing has arrived yet')).toBeVisible();
  await dropBills(page, [{ name, bytes: pdf }]);
  await expect(rowOf(page, name)).toContainText('finished');
  await rowOf(page, name).getByRole('link', { name: 'finished' }).click();
  await expect(page.getByText('Wrote 1 row to Haulage ledger.')).toBeVisible();
  await page.getByRole('link', { name: 'Lists' }).click();
  // The workbook of the same name stands on this page too.
  await page.getByRole('link', { name: 'Haulage ledger', exact: true }).click();
  await expect(page).toHaveURL(/\/lists\/haulage-ledger/);
  const total = shownAmount(truth.total.toFixed(2));
  await expect(rowOf(page, truth.number)).toContainText(total);

  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export CSV' }).click()]);
  const [head = '', row = ''] = readFileSync(await csv.path(), 'utf8').split('\r\n');
  expect(head).toBe('Haulier,Bill,Date,Account,Discount,Tax,Total,Pay,Document');
  expect(row.split(',').slice(0, 4)).toEqual(['Merrow Haulage', truth.number, truth.date, 'SQ-0417']);
  const [xlsx] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export workbook' }).click()]);
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.readFile(await xlsx.path());
  expect(workbook.worksheets[0]?.getRow(2).getCell(7).value).toBe(truth.total.toNumber());

  await rowOf(page, truth.number).getByRole('link', { name: total }).click();
  await expect(page.locator('[data-active="true"]')).toBeInViewport();
  await expect(page).toHaveURL(/at=/);
});

test('mail and files arrive while the page stays open', async ({ page }) => {
  await page.goto(url('/intake'));
  const [mailed, filed] = [await bill(6), await bill(13)];
  await post(mailed.letter);
  await expect(rowOf(page, mailed.name)).toContainText('Office mailbox');
  await expect(rowOf(page, mailed.name)).toContainText('finished');
  writeFileSync(path.join(process.env['LEADLINE_TEST_FOLDER'] ?? '', filed.name), filed.pdf);
  await expect(rowOf(page, filed.name)).toContainText('finished');
});

test('what cannot be read is told in a sentence; a repeat is run only when asked', async ({ page }) => {
  await page.goto(url('/intake'));
  await post(emptyLetter);
  await expect(page.getByText(/The mail has no attachment, only \d+ words of text/)).toBeVisible();
  await dropBills(page, [{ name: 'note.zip', bytes: Buffer.from('PK\x03\x04', 'latin1') }]);
  await expect(rowOf(page, 'note.zip')).toContainText('which cannot be read');
  const { pdf } = await bill(2);
  await dropBills(page, [{ name: 'again.pdf', bytes: pdf }]);
  await expect(rowOf(page, 'again.pdf')).toContainText('a repeat of');
  await rowOf(page, 'again.pdf').getByRole('button', { name: 'Run it anyway' }).click();
  // Run all the same, it is a bill that came before, and a person looks.
  await expect(rowOf(page, 'again.pdf')).toContainText('on the desk');
  await page.goto(url('/desk'));
  await expect(page.getByText(/has the same bill number, haulier, total\. It may have come twice\./)).toBeVisible();
});

test('runs can be filtered, and the filter is in the address', async ({ page }) => {
  await page.goto(url('/runs'));
  await page.getByRole('button', { name: /^Stranded/ }).click();
  await expect(page).toHaveURL(/state=stranded/);
  await expect(page.getByText('No run is stranded')).toBeVisible();
  await page.getByRole('button', { name: /^Finished/ }).click();
  await expect(page.getByRole('table', { name: 'Runs and their steps' })).toContainText('straight');
  await page.reload();
  await expect(page.getByRole('button', { name: /^Finished/ })).toHaveAttribute('aria-pressed', 'true');
});

test('lists are filtered and sorted by the server', async ({ page }) => {
  const { bill: truth } = await bill(6);
  await page.goto(url('/lists/haulage-ledger'));
  await page.getByLabel('Filter Bill').fill(truth.number);
  await expect(page).toHaveURL(/filter=/);
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.getByLabel('Filter Bill').fill('');
  await page.getByRole('button', { name: 'Total' }).click();
  await expect(page).toHaveURL(/sort=Total/);
  await expect(page.getByRole('row').nth(2)).toBeVisible();
  const isSorted = async () => {
    const totals = (await page.getByRole('row').locator('td:nth-child(7)').allTextContents()).map((text) => Number(text.replace(/,/g, '')));
    return totals.every((total, index) => index === 0 || total >= (totals[index - 1] ?? 0));
  };
  await expect.poll(isSorted).toBe(true);
});

test('kinds and pipelines can be read, with samples and recent documents across', async ({ page }) => {
  await page.goto(url('/kinds/haulage-bill'));
  const tally = page.getByRole('table', { name: 'Fields and samples' });
  await expect(tally).toContainText('right of “Bill no.”');
  await expect(tally).toContainText('table: description, quantity, unit, unit price, amount');
  await expect(page.getByText('The sum of amounts − discount + fuel supplement + waiting time + tax = total.')).toBeVisible();
  await page.goto(url('/pipelines/haulage-to-ledger'));
  await expect(page.getByRole('table', { name: 'Steps and recent documents' })).toContainText('Read the pages as Haulage bill');
  await page.getByRole('button', { name: 'Show as YAML' }).click();
  await expect(page.getByRole('dialog')).toContainText('leadline: pipeline/1');
});

test('a folder is connected by filling in a form, tried first, and then watched', async ({ page }) => {
  await page.goto(url('/connections'));
  await page.getByRole('button', { name: 'Add a mailbox or folder' }).click();
  await page.getByLabel('Name').fill('Second folder');
  await page.getByRole('combobox', { name: 'What', exact: true }).click();
  await page.getByRole('option', { name: 'Watched folder' }).click();
  await page.getByLabel('Pipeline it feeds').click();
  await page.getByRole('option', { name: 'Haulage to ledger' }).click();
  await page.getByLabel('Folder on the machine of the worker').fill('/no/such/folder');
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.getByRole('alert')).toContainText('does not exist');
  await page.getByLabel('Folder on the machine of the worker').fill(path.dirname(process.env['LEADLINE_TEST_FOLDER'] ?? '') + '/logs');
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.getByText(/can be read and written/)).toBeVisible();
  await page.getByRole('button', { name: 'Back' }).click();
  await expect(page.getByText('Second folder')).toHaveCount(0);
});
