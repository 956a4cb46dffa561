// What cannot be read is refused with a reason, and nothing is half done.
import { randomBytes } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { bringIn, noViolations, october, orderHeader, signIn } from './book.mjs';
import { resultsFolder } from './places.mjs';

test.beforeEach(async ({ page }) => signIn(page, 'lead'));

const row = (id, { product = 'guide-owls', quantity = '1', price = '22.00' } = {}) =>
  `${id},shop,2026-11-02T10:00:00Z,2026-11-02T10:05:00Z,EUR,card,new,yes,,,,1,${product},${quantity},${price},0,yes`;

/** Puts what is too large to hand over whole into a file. */
function large(name, content) {
  const path = `${resultsFolder}${name}`;
  writeFileSync(path, content);
  return { path };
}

async function orders(page) {
  await page.goto('/2026-11/sales');
  return page.getByRole('heading', { level: 1 }).innerText();
}

/** Refused before it is kept: the reason stands at the field, and nothing of the file is in the book. */
async function refused(page, content, reason) {
  const before = await orders(page);
  await page.goto(`${october}/sales/import`);
  await page.getByLabel('File', { exact: true }).setInputFiles(content);
  await page.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.locator('.fault')).toContainText(reason);
  expect(await orders(page)).toBe(before);
}

test('a column by another name is found, shown and asked about', async ({ page }) => {
  const before = await orders(page);
  await page.goto(`${october}/sales/import`);
  const text = `${orderHeader.replace('quantity', 'qty').replace('channel', 'where')}\n${row('X-1')}\n`;
  await page.getByLabel('File', { exact: true }).setInputFiles({ name: 'orders.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await page.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.getByLabel('What the file calls quantity', { exact: true })).toHaveValue('qty');
  // What cannot be found is said for every row, or chosen.
  await expect(page.getByLabel('What the file calls channel', { exact: true })).toHaveValue('');
  await page.getByLabel('channel in every row').fill('');
  await page.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.locator('.fault').first()).toContainText('Say which column is the channel');
  await page.getByLabel('What the file calls channel', { exact: true }).selectOption('where');
  await page.getByRole('button', { name: 'Show again as chosen' }).click();
  await expect(page.getByRole('region', { name: 'First rows' })).toContainText('X-1');
  await noViolations(page);
  page.on('dialog', (dialog) => dialog.accept());
  await page.getByRole('button', { name: 'Throw it away' }).click();
  await expect(page.getByRole('status').first()).toContainText('nothing of it is in the book');
  expect(await orders(page)).toBe(before);
});

test('50 MB of noise', ({ page }) => refused(page, large('noise.csv', randomBytes(50 * 1024 * 1024)).path, 'This is not a text file.'));

test('50 MB of text without a line', ({ page }) => refused(page, large('text.csv', Buffer.alloc(50 * 1024 * 1024, 'x')).path, 'no row of column names'));

test('an empty file is refused before it is kept', async ({ page }) => {
  await page.goto(`${october}/sales/import`);
  await page.getByLabel('File', { exact: true }).setInputFiles({ name: 'empty.csv', mimeType: 'text/csv', buffer: Buffer.alloc(0) });
  await page.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.locator('.fault')).toHaveText('The file is empty.');
});

test('rows that cannot be wait with their reasons; a file cut off in the middle says so', async ({ page }) => {
  const whole = [orderHeader, row('X-1'), row('X-2', { quantity: '-3' }), row('X-3', { product: 'guide-nowhere' }), row('X-4', { price: '12.345' }), row('X-5')].join('\n');
  await bringIn(page, whole.slice(0, -30));
  await expect(page.locator('main .facts dd')).toHaveText(['5', '1', '0', '0', '4']);
  await page.getByRole('link', { name: 'Look at the rows in quarantine' }).click();
  for (const reason of [
    "Row 3: quantity '-3': expected a whole number of 1 or more",
    "Row 4: product 'guide-nowhere': expected a product in the catalogue",
    "Row 5: unit_price '12.345': expected at most 2 decimals in EUR",
    'Row 6: the row ends after',
  ]) await expect(page.getByText(reason)).toBeVisible();
  page.on('dialog', (dialog) => dialog.accept());
  while ((await page.getByRole('button', { name: 'Discard' }).count()) > 0) {
    await page.getByRole('button', { name: 'Discard' }).first().click();
    await page.waitForLoadState();
  }
});

test('the same file twice changes nothing', async ({ page }) => {
  const file = `${orderHeader}\n${row('Y-1')}\n${row('Y-2')}\n`;
  await bringIn(page, file);
  const before = await orders(page);
  await bringIn(page, file);
  await expect(page.locator('main .facts dd')).toHaveText(['2', '0', '0', '2', '0']);
  expect(await orders(page)).toBe(before);
});
