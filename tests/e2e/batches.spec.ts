import { readFileSync } from 'node:fs';
import { expect, rowOf, test, url } from './support';

test('a folder that nobody watches is worked through: the first two, then the rest', async ({ page }) => {
  await page.goto(url('/intake'));
  await page.getByRole('link', { name: 'Batches' }).click();
  await page.getByRole('link', { name: 'New batch' }).first().click();
  await page.getByRole('combobox', { name: 'From' }).click();
  await page.getByRole('option', { name: 'Folder “last year”' }).click();
  await expect(page.getByRole('combobox', { name: 'Through' })).toHaveText('Berth power');
  await page.getByRole('button', { name: 'See what waits' }).click();
  await expect(page.getByText('12 of 12 chosen')).toBeVisible();
  await expect(page.getByText('This pipeline has finished no run yet')).toBeVisible();
  await page.getByRole('checkbox', { name: 'power-711.pdf' }).uncheck();
  await expect(page.getByText('11 of 12 chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Begin with the first 2' }).click();
  await expect(page.getByRole('status').filter({ hasText: '2 of 11 taken; the first 2 are through' })).toBeVisible();

  // What was read stands beside its page, and the rest is expected to go alike.
  await expect(rowOf(page, 'power-700.pdf')).toContainText('P300700');
  await expect(rowOf(page, 'power-702.pdf')).toContainText('not taken yet');
  await expect(page.getByText(/The other 9: about \d+ s of work/)).toBeVisible();
  await page.getByRole('group', { name: /^Results/ }).press('ArrowDown');
  await expect(page).toHaveURL(/document=/);
  await expect(page.locator('img[alt*="age 1"], image').first()).toBeVisible();

  await page.getByRole('button', { name: 'Go on with all 9' }).click();
  await expect(page.getByText('11 of 11 taken')).toBeVisible({ timeout: 40_000 });
  await expect(rowOf(page, 'power-710.pdf')).toContainText('P300710', { timeout: 40_000 });
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export CSV' }).click()]);
  expect(readFileSync(await csv.path(), 'utf8').trim().split('\r\n')).toHaveLength(12);
});

test('a place that cannot be reached says so, and nothing is begun', async ({ page }) => {
  await page.goto(url('/batches/new'));
  await page.getByRole('combobox', { name: 'From' }).click();
  await page.getByRole('option', { name: 'Another folder' }).click();
  await page.getByRole('combobox', { name: 'Through' }).click();
  await page.getByRole('option', { name: 'Berth power' }).click();
  await page.getByLabel('Folder on the machine of the worker').fill('/not/here');
  await page.getByRole('button', { name: 'See what waits' }).click();
  await expect(page.getByText('The folder /not/here does not exist')).toBeVisible();
});
