import { shownAmount } from '@/core/value/amount';
import { bill, dropBills, expect, rowOf, test, url } from './support';
import type { Page } from '@playwright/test';
import type { Oddity } from '../../demo/bills/bill';
import { deliveryNote } from '../../demo/papers/arriving';

async function toTheDesk(page: Page, seed: number, oddity: Oddity) {
  const made = await bill(seed, oddity);
  await page.goto(url('/intake'));
  await dropBills(page, [{ name: made.name, bytes: made.pdf }]);
  await expect(rowOf(page, made.name)).toContainText('on the desk');
  await page.getByRole('link', { name: /^Desk/ }).click();
  await expect(page).toHaveURL(/\/desk$/);
  await page.getByRole('link', { name: made.name }).click();
  await expect(page.getByRole('button', { name: /^Accept/ })).toBeVisible();
  return made;
}

test('a gap is closed with one key and the document accepted with another; the run goes on by itself', async ({ page }) => {
  const { bill: truth, name } = await toTheDesk(page, 40, 'discount elsewhere');
  await expect(page.getByRole('group', { name: 'Total', exact: true })).toBeFocused();
  await expect(page.getByText('1 check fails')).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByText('All checks pass')).toBeVisible();
  await expect(page.getByRole('group', { name: 'How it adds up' })).toContainText('It adds up');
  await page.keyboard.press('a');
  await expect(page.getByText('Accepted; the run goes on.')).toBeVisible();
  await page.goto(url('/lists/haulage-ledger'));
  await expect(rowOf(page, truth.number)).toContainText(shownAmount(truth.remarkedDiscount!.toFixed(2)));
  await page.goto(url(`/intake?search=${name}`));
  await expect(rowOf(page, name)).toContainText('finished');
});

test('a document with right values needs only the Enter key', async ({ page }) => {
  const { bill: truth } = await toTheDesk(page, 42, 'smudged label');
  await expect(page.getByRole('group', { name: 'Total', exact: true })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Accept/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Accepted; the run goes on.')).toBeVisible();
  await page.goto(url('/lists/haulage-ledger'));
  await expect(rowOf(page, truth.number)).toContainText(shownAmount(truth.total.toFixed(2)));
});

test('a value is corrected by typing and by clicking its word on the page; the draft keeps itself', async ({ page }) => {
  const { bill: truth } = await toTheDesk(page, 44, 'does not add up');
  const value = page.getByLabel('Value of Total');
  await page.keyboard.press('e');
  await expect(value).toBeFocused();
  await page.keyboard.type('1.00');
  await Promise.all([page.waitForResponse((answer) => answer.url().endsWith('/draft') && answer.ok()), page.keyboard.press('Enter')]);
  await page.reload();
  await expect(value).toHaveValue('1.00');
  await value.focus();
  const words = (await (await page.request.get(url(`/api/v1/tasks/${page.url().split('/').at(-1)}`))).json()) as { pages: { width: number; words: { text: string; box: number[] }[] }[] };
  const printed = shownAmount(truth.total.toFixed(2));
  const word = words.pages[0]!.words.find(({ text }) => text === printed)!;
  const picture = page.getByRole('img', { name: 'Page 1 of' });
  const frame = (await picture.boundingBox())!;
  const scale = frame.width / words.pages[0]!.width;
  await page.mouse.click(frame.x + ((word.box[0]! + word.box[2]!) / 2) * scale, frame.y + ((word.box[1]! + word.box[3]!) / 2) * scale);
  await expect(value).toHaveValue(truth.total.toFixed(2));
});

test('table rows are added, filled by dragging down the page, taken away, and amounts follow', async ({ page }) => {
  await toTheDesk(page, 46, 'wrong row');
  const rows = page.getByRole('group', { name: 'Trips' });
  await rows.getByLabel('Quantity, row 1', { exact: true }).fill('2');
  await rows.getByLabel('Unit price, row 1', { exact: true }).fill('10.00');
  await rows.getByLabel('Unit price, row 1', { exact: true }).press('Enter');
  await expect(rows.getByLabel('Amount, row 1', { exact: true })).toHaveValue('20.00');
  const before = await rows.getByLabel(/^Amount, row/).count();
  await page.getByRole('button', { name: 'Add a row' }).click();
  await expect(rows.getByLabel(/^Amount, row/)).toHaveCount(before + 1);
  await page.getByRole('button', { name: `Take row ${before + 1} away` }).click();
  await expect(rows.getByLabel(/^Amount, row/)).toHaveCount(before);

  await rows.getByLabel('Quantity, row 1', { exact: true }).focus();
  const review = (await (await page.request.get(url(`/api/v1/tasks/${page.url().split('/').at(-1)}`))).json()) as { reading: { tables: { lines: { quantity: { text: string; place: { box: number[] } } }[] } }; pages: { width: number }[] };
  const quantities = review.reading.tables.lines.map((row) => row.quantity);
  const frame = (await page.getByRole('img', { name: 'Page 1 of' }).boundingBox())!;
  const scale = frame.width / review.pages[0]!.width;
  const [top, bottom] = [quantities[0]!.place.box, quantities[1]!.place.box];
  await page.mouse.move(frame.x + (top[0]! - 3) * scale, frame.y + (top[1]! - 2) * scale);
  await page.mouse.down();
  await page.mouse.move(frame.x + (bottom[2]! + 3) * scale, frame.y + (bottom[3]! + 2) * scale, { steps: 5 });
  await page.mouse.up();
  await expect(rows.getByLabel('Quantity, row 1', { exact: true })).toHaveValue(quantities[0]!.text);
  await expect(rows.getByLabel('Quantity, row 2', { exact: true })).toHaveValue(quantities[1]!.text);
});

test('a document can be set aside, taken back, and refused with a reason', async ({ page }) => {
  const { name } = await toTheDesk(page, 48, 'does not add up');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('accept the document');
  await page.keyboard.press('Escape');
  await page.getByRole('group', { name: 'Total', exact: true }).focus();
  await page.keyboard.press('s');
  await expect(page.getByText(/Set aside/).first()).toBeVisible();
  await page.goto(url('/desk'));
  await page.getByRole('listitem').filter({ hasText: name }).getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByText('Back in the queue.')).toBeVisible();
  await page.getByRole('link', { name }).click();
  await page.getByRole('button', { name: /^Refuse/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Refuse' }).click();
  await expect(page.getByText('Please say why, in a few words.')).toBeVisible();
  await page.getByLabel('Reason').fill('They will send a new one');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Refused; the run has ended.')).toBeVisible();
  await page.goto(url(`/intake?search=${name}`));
  await expect(rowOf(page, name)).toContainText('stopped');
});

test('what still fails is accepted only with a reason, which stays on record', async ({ page }) => {
  const { name } = await toTheDesk(page, 54, 'does not add up');
  await page.keyboard.press('a');
  await page.getByLabel('Why it is right all the same').fill('Agreed by telephone');
  await page.getByRole('dialog').getByRole('button', { name: 'Accept' }).click();
  await expect(page.getByText('Accepted with a reason; the run goes on.')).toBeVisible();
  await page.goto(url(`/intake?search=${name}`));
  await rowOf(page, name).getByRole('link', { name: 'finished' }).click();
  await expect(page.getByText(/Accepted by Office.*Agreed by telephone/)).toBeVisible();
});

test('the rows of a delivery note are matched with what was ordered; what is not sure is decided by keys, and the receipt says so', async ({ page }) => {
  const note = await deliveryNote(2);
  await page.goto(url('/intake'));
  await dropBills(page, [{ name: note.name, bytes: note.bytes }], 'Deliveries to orders');
  await expect(rowOf(page, note.name)).toContainText('on the desk', { timeout: 30_000 });
  await page.getByRole('link', { name: /^Desk/ }).click();
  await expect(page).toHaveURL(/\/desk$/);
  await page.getByRole('link', { name: note.name }).click();
  await expect(page.getByRole('heading', { name: 'Which rows belong together?' })).toBeVisible();
  await expect(page.getByText('quantity is 14, at most 12 is expected')).toBeVisible();
  await page.getByLabel('Row 1 belongs to').press('0');
  await expect(page.getByText('1 row belongs to nothing.')).toBeVisible();
  await page.locator('body').press('a');
  await expect(page.getByText('Answered; the run goes on.')).toBeVisible();
  await page.goto(url(`/intake?search=${note.name}`));
  await expect(rowOf(page, note.name)).toContainText('finished');
  const { receipts } = (await (await fetch(`${process.env['LEADLINE_TEST_LEDGER'] ?? ''}/records`)).json()) as { receipts: { note: string; lines: { line: number; quantity: string }[] }[] };
  const [, second, third] = note.truth.tables['lines'] ?? [];
  expect(receipts.filter((receipt) => receipt.note === note.truth.fields['number']).map(({ lines }) => lines.map(({ line, quantity }) => [line, quantity]))).toEqual([[[20, second?.['quantity']], [30, third?.['quantity']]]]);
});
