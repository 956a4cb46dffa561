import { test, expect } from '@playwright/test';
import { agree, signIn, reach, press, type, october } from './book.mjs';

/** After the month end in the same book (files run by name): what comes to light after an order is in: who brought it, what the fee really was. The lead corrects it by keyboard and reads why. */
test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());

/** The first order of October that nobody brought. */
async function openUnattributed() {
  await page.goto(`${october}/sales?brought=nobody`);
  const order = page.getByRole('row').filter({ hasNot: page.getByRole('columnheader') }).filter({ hasText: /HS-/ }).first();
  await order.getByRole('link').first().click();
  await expect(page.getByText('Nobody brought this order.').first()).toBeVisible();
}

test('refuses an assignment without a reason and keeps what was chosen', async () => {
  await openUnattributed();
  await press(page, page.getByText('Correct what is known about this order'));
  await press(page, page.getByRole('link', { name: 'Assign by hand' }));
  await reach(page, page.getByLabel('Brought by'));
  await page.keyboard.type('Silver Birch N');
  await press(page, page.getByRole('button', { name: 'Show the difference' }));
  await expect(page.getByText('Say why; it stands in the log beside your name.')).toBeVisible();
  await expect(page.getByLabel('Brought by')).toHaveValue('silver-birch-notebook');
});

test('assigns the order by hand; its earning is posted and its trace says so', async () => {
  await type(page, page.getByLabel('Because'), 'The customer wrote in to say');
  await press(page, page.getByRole('button', { name: 'Show the difference' }));
  await expect(page.getByText('1 order would count as brought by somebody else')).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'Silver Birch Notebook' }).filter({ hasText: 'EUR' })).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Assign, and post the difference' }));
  await expect(page.getByText(/1 order assigned, \d+ entr/)).toBeVisible();
  const entries = page.getByRole('region', { name: 'Entries' });
  await press(page, entries.getByRole('link', { name: 'Silver Birch Notebook' }).first());
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('Brought by Silver Birch Notebook: assigned by hand.');
});

test('corrects the fee; a difference follows the first entry', async () => {
  const entries = page.getByRole('region', { name: 'Entries' });
  const before = await entries.getByRole('row').count();
  await press(page, page.getByText('Correct what is known about this order'));
  await type(page, page.getByLabel('Processing fee, EUR'), '12.345');
  await press(page, page.getByRole('button', { name: 'Correct the fees' }));
  await expect(page.getByText('at most 2 decimals in EUR')).toBeVisible();
  await expect(page.getByLabel('Processing fee, EUR')).toHaveValue('12.345');
  await type(page, page.getByLabel('Processing fee, EUR'), '9.50');
  await press(page, page.getByRole('button', { name: 'Correct the fees' }));
  await agree(page, 'House');
  await expect(page.getByText('The fees are corrected; the differences are posted.')).toBeVisible();
  expect(await entries.getByRole('row').count()).toBeGreaterThan(before);
  await expect(entries.getByRole('row').filter({ hasText: 'Silver Birch Notebook' }).filter({ hasText: '−' }).first()).toBeVisible();
});

test('opens the same trace from the ledger of the payee', async () => {
  await page.goto(`${october}/people/silver-birch-notebook`);
  await press(page, page.getByRole('region', { name: 'Entries' }).getByRole('link').first());
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await expect(trace).toContainText('Brought by Silver Birch Notebook: assigned by hand.');
  await expect(trace.getByRole('link', { name: /HS-/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(trace).toHaveCount(0);
});

test('an order that no shop reports is typed in; a wrong price is told at its cell; its refund is typed in too', async () => {
  await page.goto(`${october}/sales/by-hand`);
  await type(page, page.getByLabel('Order', { exact: true }), 'FAIR-1');
  await type(page, page.getByLabel('Channel', { exact: true }), 'shop');
  await page.getByLabel('Placed at').fill('2026-10-20T11:00');
  await page.getByLabel('Paid at').fill('2026-10-20T11:05');
  const inLine1 = (what) => page.getByLabel(`Line 1, ${what}`, { exact: true });
  await type(page, inLine1('product'), 'box-bat');
  await type(page, inLine1('units'), '1');
  await type(page, inLine1('price a unit'), '12.345');
  await press(page, page.getByRole('button', { name: 'Enter it' }));
  await expect(page.getByRole('cell').filter({ has: inLine1('price a unit') })).toContainText('at most 2 decimals in EUR');
  await expect(inLine1('product')).toHaveValue('box-bat');
  await type(page, inLine1('price a unit'), '30.00');
  await press(page, page.getByRole('button', { name: 'Enter it' }));
  await expect(page.getByRole('status').first()).toContainText('It is stored');
  await expect(async () => {
    await page.goto(`${october}/sales/FAIR-1`);
    await expect(page.getByRole('heading', { level: 1 })).toContainText('€30.00 charged', { timeout: 1000 });
  }).toPass({ timeout: 60_000 });
  await page.goto(`${october}/sales/by-hand?kind=Refund`);
  await type(page, page.getByLabel('Reference of the refund'), 'FAIR-R1');
  await type(page, page.getByLabel('Order', { exact: true }), 'FAIR-1');
  await page.getByLabel('At', { exact: true }).fill('2026-10-25T09:00');
  await page.getByLabel('It is', { exact: true }).selectOption('cancel');
  await press(page, page.getByRole('button', { name: 'Enter it' }));
  await expect(page.getByRole('status').first()).toContainText('It is stored');
  await expect(async () => {
    await page.goto(`${october}/sales/FAIR-1`);
    await expect(page.getByText('FAIR-R1').first()).toBeVisible({ timeout: 1000 });
  }).toPass({ timeout: 60_000 });
});
