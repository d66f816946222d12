import type { Page } from '@playwright/test';
import { HAULIERS } from '../../demo/lists';
import { scannedTicket } from '../../demo/papers/arriving';
import { bill, drop, dropBills, expect, rowOf, test, url } from './support';

const tally = (page: Page) => page.getByRole('table', { name: 'Steps and documents tried' });
const stepOf = (page: Page, id: string) => page.locator(`tr[data-step="${id}"]`);

/** Add a step at the end by typing what is wanted. */
async function add(page: Page, wanted: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a step', exact: true }).click();
  await page.getByLabel('What should happen?').fill(wanted);
  await page.keyboard.press('Enter');
}

async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('combobox', { name: label }).click();
  await page.getByRole('option', { name: option }).click();
}

test('a pipeline is built from nothing by clicking, tried, published, and writes its first row', async ({ page }) => {
  await page.goto(url('/pipelines'));
  await page.getByRole('button', { name: 'New pipeline' }).first().click();
  await page.getByRole('button', { name: /^Empty/ }).click();
  await page.getByLabel('Name').fill('My weighings');
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByText('Nothing happens yet. Add the first step.')).toBeVisible();

  await add(page, 'read');
  await choose(page, 'As which kind', 'Weighbridge ticket');
  await expect(stepOf(page, 'read')).toContainText('Read the pages as Weighbridge ticket');
  await add(page, 'check');
  await add(page, 'review');
  await add(page, 'list');
  await expect(stepOf(page, 'list')).toContainText('Choose the list to write to.');
  await choose(page, 'To the list', 'Weighings');
  await page.getByRole('button', { name: /^Match \d by name$/ }).click();
  await expect(stepOf(page, 'list').getByRole('alert')).toHaveCount(0);
  // Matched by name: the ticket's number too, which is called otherwise in the list.
  await expect(page.getByRole('combobox', { name: 'Vehicle is' })).toHaveValue('Vehicle');

  // By keys: the check goes below the desk and back, and a step is taken out and brought back.
  await stepOf(page, 'check').getByRole('button').first().focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.locator('tr[data-step]').nth(1)).toContainText('Ask the desk');
  await page.keyboard.press('Control+z');
  await expect(page.locator('tr[data-step]').nth(1)).toContainText('Check it');
  await stepOf(page, 'desk').getByRole('button').first().focus();
  await page.keyboard.press('Delete');
  await expect(stepOf(page, 'desk')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(stepOf(page, 'desk')).toHaveCount(1);

  await expect(page.getByText('kept as a draft')).toBeVisible();
  await page.reload();
  await expect(stepOf(page, 'list')).toContainText('Write one row to the list Weighings');
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText('Published as version 1')).toBeVisible();

  const ticket = await scannedTicket(71);
  await page.goto(url('/intake'));
  await drop(page, [ticket]);
  await page.getByRole('dialog').getByRole('button', { name: /My weighings/ }).click();
  await expect(rowOf(page, ticket.name)).toContainText('finished', { timeout: 60_000 });
  await page.goto(url('/lists/weighings'));
  await expect(rowOf(page, ticket.name)).toContainText(String(ticket.truth.fields['number']));
});

test('a pipeline is changed as text, tried on what came before, and published', async ({ page }) => {
  const { pdf, name, bill: truth } = await bill(26);
  await page.goto(url('/intake'));
  await dropBills(page, [{ name, bytes: pdf }]);
  await expect(rowOf(page, name)).toContainText('finished');
  await page.goto(url('/pipelines/haulage-to-ledger'));
  await page.getByRole('link', { name: 'Change and try' }).click();
  await expect(tally(page)).toContainText(name.replace('.pdf', ''));
  await stepOf(page, 'ledger').getByRole('button', { name: 'would write 1 row' }).first().click();
  await expect(page.getByRole('region', { name: 'What the step would make' })).toContainText(truth.number);

  await page.getByRole('button', { name: 'As text' }).click();
  const text = page.getByLabel('The pipeline as text');
  const before = await text.inputValue();
  await text.fill(before.replace('Bill: number, Date', 'Bill: nummer, Date'));
  await expect(page.getByRole('alert').first()).toContainText('has a field “nummer”');
  await text.fill(before.replace('do: check }', 'do: check, colour: red }'));
  await expect(page.getByRole('alert').first()).toContainText(/Line \d+, column \d+/);
  await expect(page.getByRole('button', { name: 'Publish' })).toBeDisabled();
  await text.fill(before.replace('than: "2500.00"', 'than: "2600.00"'));
  await page.getByRole('button', { name: 'As sentences' }).click();
  await expect(stepOf(page, 'size')).toContainText('above 2600.00');
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/Published as version \d+/)).toBeVisible();
  await expect(page).toHaveURL(/pipelines\/haulage-to-ledger$/);
  await expect(page.getByText('above 2600.00')).toBeVisible();
});

test('two builders of one draft: the second is told, and nothing is overwritten', async ({ page, context }) => {
  await page.goto(url('/pipelines/berth-power/edit'));
  const other = await context.newPage();
  await other.goto(url('/pipelines/berth-power/edit'));
  await stepOf(page, 'check').getByRole('button').first().focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('kept as a draft')).toBeVisible();
  await stepOf(other, 'review').getByRole('button').first().focus();
  await other.keyboard.press('Delete');
  await expect(other.getByText(/has changed this draft in the meantime/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'Publish' })).toBeDisabled();
  await page.reload();
  await expect(stepOf(page, 'review')).toHaveCount(1);
  await page.getByRole('button', { name: 'Throw away' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Throw away' }).click();
  await expect(page).toHaveURL(/pipelines\/berth-power$/);
  await other.close();
});

test('a fault strands runs; mended, the group is set going again and every bill is entered once', async ({ page }) => {
  const ledger = process.env['LEADLINE_TEST_LEDGER'] ?? '';
  const vendors = (list: readonly unknown[]) => fetch(`${ledger}/vendors`, { method: 'PUT', body: JSON.stringify(list) });
  const entered = async (number: string) => ((await (await fetch(`${ledger}/records`)).json()) as { bills: { number: string }[] }).bills.filter((one) => one.number === number).length;
  await vendors([]);
  const bills = [await bill(61), await bill(64)];
  await page.goto(url('/intake'));
  await dropBills(page, bills.map(({ name, pdf }) => ({ name, bytes: pdf })));
  for (const { name } of bills) await expect(rowOf(page, name)).toContainText('stranded');
  await page.goto(url('/runs?state=stranded'));
  await expect(page.getByText(/There is no vendor/).first()).toBeVisible();
  await vendors(HAULIERS.map(([id, name, account]) => ({ id, name, account })));
  await page.getByRole('button', { name: 'Refloat all 2' }).click();
  await page.goto(url('/intake'));
  for (const { name, bill: truth } of bills) {
    await expect(rowOf(page, name)).toContainText('finished');
    expect(await entered(truth.number)).toBe(1);
  }
});
