// An own, empty book: opened by its owner, then filled with the first product, agreement, payee and order.
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { appCode } from './app-codes.mjs';
import { axeOn, signOut } from './book.mjs';
import { ownLog, ownUrl } from './places.mjs';

test.use({ baseURL: ownUrl });

test('the first start asks for the owner; the book then takes its first order to a payee', async ({ page }) => {
  await page.goto('/');
  await expect(page).toHaveURL(/\/setup$/);
  expect((await axeOn(page).analyze()).violations).toEqual([]);
  await page.getByLabel('Code of the console').fill('not the code');
  await page.getByLabel('Name of the business').fill('Small & Co');
  await page.getByLabel('Your name').fill('Olive Owner');
  await page.getByLabel('Name to sign in with').fill('olive');
  await page.getByLabel('Time zone').fill('Atlantis/Middle');
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Open the book' }).click();
  await expect(page.locator('.fault')).toContainText('This is not the code');
  await page.getByLabel('Code of the console').fill(readFileSync(ownLog, 'utf8').match(/code=(\w+)/)[1]);
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Open the book' }).click();
  await expect(page.locator('.fault')).toContainText('at least 12 characters');
  await page.getByLabel('Password').fill('a quiet hedgerow');
  await page.getByRole('button', { name: 'Open the book' }).click();
  await expect(page.locator('.fault')).toContainText("'Atlantis/Middle' is not a time zone");
  await page.getByLabel('Time zone').fill('Europe/Dublin');
  await page.getByLabel('Password').fill('a quiet hedgerow');
  await page.getByRole('button', { name: 'Open the book' }).click();
  await secondFactor(page);
  await page.goto('/');
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();

  // For trying, the demonstration comes and goes; the book is then as new as it was.
  test.setTimeout(300_000);
  await page.getByRole('button', { name: 'Fill with the demonstration' }).click();
  await expect(page.getByText('The demonstration is being made')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Empty the book again' })).toBeVisible({ timeout: 200_000 });
  await expect(page.getByRole('banner').getByText('Hedgerow & Sky')).toBeVisible();
  expect((await axeOn(page).analyze()).violations).toEqual([]);
  page.once('dialog', (dialog) => dialog.accept());
  await page.getByRole('button', { name: 'Empty the book again' }).click();
  await expect(page.getByRole('status').first()).toContainText('as it was before the demonstration');
  await expect(page.getByRole('banner').getByText('Small & Co')).toBeVisible();
  await expect(page.getByRole('heading', { name: /0 of 9 done|1 of 9 done/ })).toBeVisible();

  const period = new URL(page.url()).pathname;
  await page.goto(`${period}/terms/products`);
  await page.getByLabel('Id', { exact: true }).fill('mug');
  await page.getByLabel('Name', { exact: true }).fill('A mug');
  await page.getByLabel(/^Price/).fill('10.00');
  await page.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('link', { name: 'A mug' })).toBeVisible();

  await page.goto(`${period}/people/new`);
  await page.getByLabel('Name', { exact: true }).fill('Pia Potter');
  await page.getByLabel('Role').selectOption('collaborator');
  await page.getByLabel('Active from').fill('2025-01-01');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Pia Potter');

  await page.goto(`${period}/terms/new`);
  await page.getByLabel('Name', { exact: true }).fill('Mugs');
  await page.getByLabel('Earned on').selectOption('Contribution');
  await page.getByLabel('In force from').fill('2025-01-01');
  await page.getByRole('group', { name: 'Term 1' }).getByLabel('percent of the base', { exact: true }).fill('30');
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByLabel('Payee', { exact: true }).selectOption('pia-potter');
  await page.getByLabel('From', { exact: true }).fill('2025-01-01');
  await page.getByRole('button', { name: 'Put on' }).click();
  await expect(page.getByRole('status').first()).toContainText('Pia Potter is on it');

  await page.goto(`${period}/sales/import`);
  const day = `${period.slice(1)}-01T12:00:00Z`;
  const csv = `order_id,channel,placed_at,paid_at,currency,line_id,product,quantity,unit_price\n1,shop,${day},${day},EUR,1,mug,3,10.00\n`;
  await page.getByLabel('File', { exact: true }).setInputFiles({ name: 'orders.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.locator('[data-finished]')).toContainText('Orders added');
  await page.goto(`${period}/people`);
  await expect(page.getByRole('row').filter({ hasText: 'Pia Potter' })).toContainText('€9.00');

  await page.goto(`${period}/users`);
  await page.getByLabel('Name', { exact: true }).fill('Abe Approver');
  await page.getByLabel('Name to sign in with').fill('abe');
  await page.getByLabel('First password').fill('another long password');
  await page.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('cell', { name: 'Abe Approver' })).toBeVisible();
});

/** The set-up asked for a second factor: an app, then a passkey, which then signs in by itself. */
async function secondFactor(page) {
  const authenticator = await page.context().newCDPSession(page);
  await authenticator.send('WebAuthn.enable');
  await authenticator.send('WebAuthn.addVirtualAuthenticator', {
    options: { protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true, isUserVerified: true, automaticPresenceSimulation: true },
  });
  await expect(page).toHaveURL(/\/second-factor$/);
  await expect(page.getByRole('img', { name: 'The key as a picture for the app' })).toBeVisible();
  expect((await axeOn(page).analyze()).violations).toEqual([]);
  // Nothing else opens before that.
  await page.goto('/2026-11/people');
  await expect(page).toHaveURL(/\/second-factor$/);
  const key = await page.locator('code.mono').innerText();
  await page.getByLabel('Code', { exact: true }).fill('000000');
  await page.getByRole('button', { name: 'Use this app' }).click();
  await expect(page.locator('.fault').first()).toContainText('not the code of now');
  await page.getByLabel('Code', { exact: true }).fill(appCode(key));
  await page.getByRole('button', { name: 'Use this app' }).click();
  await expect(page.locator('.codes li')).toHaveCount(10);
  const recovery = await page.locator('.codes li').first().innerText();
  expect((await axeOn(page).analyze()).violations).toEqual([]);
  await page.getByLabel('Name of the new passkey').fill('laptop');
  await page.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(page.getByText(/^laptop, since/)).toBeVisible();

  await page.goto('/');
  await signOut(page);
  await page.getByLabel('Name', { exact: true }).fill('olive');
  await page.getByLabel('Password').fill('a quiet hedgerow');
  await page.getByRole('button', { name: 'Sign in' }).click();
  expect((await axeOn(page).analyze()).violations).toEqual([]);
  await page.getByLabel('Code of your app').fill('123456');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('alert').first()).toContainText('not the code of now');
  await page.getByLabel('Code of your app').fill(recovery);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();

  await signOut(page);
  await page.getByRole('button', { name: 'Use a passkey instead' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}
