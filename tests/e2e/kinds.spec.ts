import { readFileSync } from 'node:fs';
import { makePaper } from '../../demo/papers/content';
import { printPaper } from '../../demo/papers/print';
import { printStrangeBill, strangeBill } from '../support/papers';
import { dropBills, expect, rowOf, test, url } from './support';

const note = async (seed: number) => ({ name: `note-${seed}.pdf`, mimeType: 'application/pdf', buffer: await printPaper(makePaper('delivery-note', 15, seed)) });

test('a kind is built from three samples and published, by clicking and confirming', async ({ page }) => {
  await page.goto(url('/kinds'));
  await page.getByRole('button', { name: 'New kind' }).first().click();
  await page.getByRole('button', { name: /^Delivery note/ }).click();
  await page.getByLabel('Name').fill('Goods in');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: 'Goods in' })).toBeVisible();
  await page.locator('input[type=file]').first().setInputFiles([await note(1), await note(2), await note(3)]);
  await expect(page.getByText('3 samples added.')).toBeVisible();
  const tally = page.getByRole('table', { name: 'Fields and samples' });
  const number = tally.getByRole('row').filter({ hasText: 'Delivery note number' });
  await expect(number).toContainText(makePaper('delivery-note', 15, 1).truth.fields['number'] ?? '');
  await number.getByRole('cell').nth(0).click();
  await expect(page.getByRole('img', { name: /^Page 1/ })).toBeVisible();
  for (let sample = 1; sample <= 3; sample += 1) {
    await page.locator('body').press('c');
    await expect(page.getByText(`3 samples, ${sample} confirmed`)).toBeVisible();
  }
  await page.getByRole('button', { name: 'Learn from samples' }).click();
  await expect(page.getByText('Learned from 3 samples: 1 layout.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText('Published as version 1.')).toBeVisible();
  await page.getByRole('button', { name: 'Sound', exact: true }).click();
  await expect(page.getByText('Fields right')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Fields' })).toContainText('Delivery note number');
});

test('a field is marked on the page and named after the text beside it', async ({ page }) => {
  await page.goto(url('/kinds'));
  await page.getByRole('button', { name: 'New kind' }).first().click();
  await page.getByRole('button', { name: /^Empty/ }).click();
  await page.getByLabel('Name').fill('Marked by hand');
  await page.getByRole('button', { name: 'Begin' }).click();
  await page.locator('input[type=file]').first().setInputFiles([{ name: 'strange.pdf', mimeType: 'application/pdf', buffer: await printStrangeBill(60) }]);
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Name').fill('Haulier');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  const tally = page.getByRole('table', { name: 'Fields and samples' });
  await tally.getByRole('row').filter({ hasText: 'Haulier' }).getByRole('cell').first().click();
  await page.getByRole('button', { name: 'New field from the page' }).click();
  const paper = page.getByRole('img', { name: /^Page 1/ });
  await expect(paper).toBeVisible();
  const pages = await (await page.request.get(url(`/api/v1/samples/${(await (await page.request.get(url('/api/v1/kinds/marked-by-hand/workbench'))).json()).samples[0].id}/pages`))).json();
  const word = pages.pages[0].words.find((one: { text: string }) => one.text === 'Q-7060');
  const edges = (await paper.boundingBox())!;
  const scale = edges.width / pages.pages[0].width;
  // The page scrolls to the active value by itself; the click finds its point wherever that has gone.
  await page.locator('figure svg').first().click({ position: { x: (word.box[0] + 4) * scale, y: ((word.box[1] + word.box[3]) / 2) * scale } });
  await expect(page.getByText('“Leaf in our book” is a field now.', { exact: false })).toBeVisible();
  await expect(tally.getByRole('row').filter({ hasText: 'Leaf in our book' })).toContainText('Q-7060');
});

test('one bill of a strange layout is corrected on the desk, and the next one comes right', async ({ page }) => {
  const [first, second] = [strangeBill(71), strangeBill(72)];
  // A pipeline that does not look the haulier up: nobody in the office knows this one.
  const yaml = readFileSync('tests/support/pipelines/haulage-to-ledger.yaml', 'utf8').replace('key: haulage-to-ledger', 'key: plain-bills').replace('name: Haulage to ledger', 'name: Plain bills');
  expect((await page.request.post(url('/api/v1/pipelines/plain-bills/publish'), { data: { yaml } })).ok()).toBe(true);
  await page.goto(url('/intake'));
  await dropBills(page, [{ name: 'strange-71.pdf', bytes: await printStrangeBill(71) }], 'Plain bills');
  await expect(rowOf(page, 'strange-71.pdf')).toContainText('on the desk');
  await page.goto(url('/desk'));
  await page.getByRole('link', { name: 'strange-71.pdf' }).click();
  const account = page.getByLabel('Value of Our account');
  await account.fill(first.truth.fields['account'] ?? '');
  await account.press('Enter');
  await expect(page.getByText('All checks pass')).toBeVisible();
  await page.getByRole('button', { name: /^Accept/ }).click();
  // An account that does not stand on the page may hold for all papers of this haulier; this is asked once.
  await expect(page.getByRole('heading', { name: /^Always our account “.+” when haulier is / })).toBeVisible();
  await page.getByRole('button', { name: 'Only this time' }).click();
  await expect(page.getByText('Accepted; the run goes on.')).toBeVisible();

  await page.goto(url('/kinds/haulage-bill'));
  await expect(page.getByText(/\d+ from the desk to look at/)).toBeVisible();
  await page.getByRole('columnheader', { name: /^strange-71/ }).scrollIntoViewIfNeeded();
  const row = page.getByRole('table', { name: 'Fields and samples' }).getByRole('row').filter({ hasText: 'Our account' });
  await row.getByRole('cell').last().click();
  await page.getByRole('button', { name: /^Take the values from the desk/ }).click();
  await expect(page.getByRole('columnheader', { name: /^strange-71/ })).toContainText('confirmed');
  await page.getByRole('button', { name: 'Learn from samples' }).click();
  await expect(page.getByText(/^Learned from/)).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText('Published as version 2.')).toBeVisible();

  await page.goto(url('/intake'));
  await dropBills(page, [{ name: 'strange-72.pdf', bytes: await printStrangeBill(72) }], 'Plain bills');
  await expect(rowOf(page, 'strange-72.pdf')).toContainText('finished');
  await page.goto(url('/lists/haulage-ledger'));
  await expect(rowOf(page, second.truth.fields['number'] ?? '')).toContainText(second.truth.fields['account'] ?? '');
});
