import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { powerStatement } from '../../demo/papers/arriving';
import { makePaper } from '../../demo/papers/content';
import { printPaper } from '../../demo/papers/print';
import { TRAYS } from '../../demo/tray-papers';
import { expect, rowOf, test, url } from './support';

const tray = (name: string): string => path.join(path.dirname(process.env['LEADLINE_TEST_FOLDER'] ?? ''), name);
const csv = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

test('reference data is imported from a file, and what does not fit is said row by row', async ({ page }) => {
  await page.goto(url('/lists'));
  await page.getByRole('button', { name: 'New list of reference data' }).click();
  await page.locator('[role=dialog] input[type=file]').setInputFiles(csv('slip-holders.csv', 'No,Holder\n0041,Aud Halloran\n0041,Peder Quist\n'));
  await expect(page.getByLabel('Name')).toHaveValue('slip holders');
  await page.getByLabel('Column that tells rows apart').fill('No');
  await page.getByRole('button', { name: 'Make the list' }).click();
  await expect(page.getByRole('alert')).toContainText('Row 3 has the same No “0041” as row 2.');
  await page.locator('[role=dialog] input[type=file]').setInputFiles(csv('slip-holders.csv', 'No,Holder\n0041,Aud Halloran\n0042,Peder Quist\n'));
  await page.getByRole('button', { name: 'Make the list' }).click();
  await expect(page.getByRole('heading', { name: 'slip holders' })).toBeVisible();
  await expect(rowOf(page, 'Peder Quist')).toContainText('0042');
  await page.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('button', { name: 'Remove the list' }).click();
  await expect(page.getByText('slip holders is gone.')).toBeVisible();
});

test('a list that comes from the office database is synced on demand, and its password is nowhere to be seen', async ({ page }) => {
  await page.goto(url('/lists/hauliers'));
  await page.getByRole('button', { name: 'Sync now' }).click();
  await expect(page.getByText('4 rows are in Hauliers now.')).toBeVisible();
  await page.goto(url('/connections'));
  await expect(page.getByText('Office database')).toBeVisible();
  await expect(page.getByText('study', { exact: true })).toBeVisible();
  await page.locator('section').filter({ hasText: 'Services, applications and databases' }).getByRole('button', { name: 'Change' }).last().click();
  await expect(page.getByLabel(/^(Password|Key) \(empty: as it is\)$/)).toHaveValue('');
});

test('a power statement finds its berth by the meter that stands on it, and the row says so', async ({ page }) => {
  const made = await powerStatement(41);
  writeFileSync(path.join(tray('power'), made.name), made.bytes);
  await page.goto(url(`/lists/berth-power`));
  const row = rowOf(page, made.truth.fields['number'] ?? '');
  await expect(row).toBeVisible({ timeout: 30_000 });
  for (const key of ['meter', 'berth', 'boat', 'used']) await expect(row).toContainText(made.truth.fields[key] ?? 'missing');
});

test('a paper of no known kind is asked about; one key answers, and the run goes on', async ({ page }) => {
  const stranger = await TRAYS.stranger.make(7);
  writeFileSync(path.join(tray('post'), stranger.name), stranger.bytes);
  await page.goto(url('/desk'));
  await page.getByRole('link', { name: stranger.name }).click({ timeout: 40_000 });
  await expect(page.getByRole('heading', { name: 'Which kind is it?' })).toBeVisible();
  const run = await page.getByRole('link', { name: 'run', exact: true }).getAttribute('href');
  const first = await page.getByRole('button', { name: /^1/ }).innerText();
  await page.locator('body').press('1');
  await expect(page.getByText('Answered; the run goes on.')).toBeVisible();
  await page.goto(url(run ?? ''));
  await expect(page.getByText(/^Browser says: |says: /)).toContainText(first.split('\n')[1] ?? '');
});

test('a kind is bound to a list and given hints on screen, and its draft keeps them', async ({ page }) => {
  await page.goto(url('/kinds/slip-booking'));
  await page.getByRole('button', { name: 'Settings' }).click();
  await page.getByLabel('Senders').fill('@boats.example');
  await page.getByLabel('List', { exact: true }).click();
  await page.getByRole('option', { name: 'Berth meters' }).click();
  await page.getByLabel('Field that takes Meter').click();
  await page.getByRole('option', { name: 'Owner' }).click();
  await page.getByLabel('Boat is').click();
  await page.getByRole('option', { name: 'Boat' }).click();
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText('A draft over version')).toBeVisible();
  const { kind } = (await (await page.request.get(url('/api/v1/kinds/slip-booking/workbench'))).json()) as { kind: Record<string, unknown> };
  expect(kind).toMatchObject({ sorting: { senders: ['@boats.example'] }, bindings: [{ list: 'berth-meters', field: 'owner', fill: { boat: 'Boat' } }] });
  await page.request.delete(url('/api/v1/kinds/slip-booking/draft'));
});

test('rows of a table are taken from the page by one drag', async ({ page }) => {
  await page.goto(url('/kinds'));
  await page.getByRole('button', { name: 'New kind' }).first().click();
  await page.getByRole('button', { name: /^Delivery note/ }).click();
  await page.getByLabel('Name').fill('By one drag');
  await page.getByRole('button', { name: 'Begin' }).click();
  const made = makePaper('delivery-note', 15, 4);
  await page.locator('input[type=file]').first().setInputFiles([{ name: 'dragged.pdf', mimeType: 'application/pdf', buffer: await printPaper(made) }]);
  const tally = page.getByRole('table', { name: 'Fields and samples' });
  await tally.getByRole('row').filter({ hasText: 'table:' }).getByRole('cell').first().click();
  const paper = page.locator('figure svg').first();
  await expect(page.getByRole('img', { name: /^Page 1/ })).toBeVisible();
  const edges = (await paper.boundingBox())!;
  await page.mouse.move(edges.x + 10, edges.y + 0.2 * edges.height);
  await page.mouse.down();
  await page.mouse.move(edges.x + edges.width - 10, edges.y + 0.75 * edges.height, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/rows? taken from the page/)).toBeVisible();
});
