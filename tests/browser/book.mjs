import { readFileSync } from 'node:fs';
import { AxeBuilder } from '@axe-core/playwright';
import { expect } from '@playwright/test';
import { demoFolder } from './places.mjs';

export const october = '/2026-10';

/** The sign-ins the demonstration printed: role to name and password. */
export function signIns(folder = demoFolder) {
  const lines = readFileSync(`${folder}/sign-ins.txt`, 'utf8').trim().split('\n');
  return Object.fromEntries(lines.map((line) => {
    const [role, name, password] = line.trim().split(/\s+/);
    return [role, { name, password }];
  }));
}

export async function signIn(page, role) {
  const { name, password } = signIns()[role];
  await page.goto('/sign-in');
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** Signs out and waits for the page that follows: to go elsewhere before it came would cut the signing out short. */
export async function signOut(page, { keyboard = false } = {}) {
  const button = page.getByRole('button', { name: 'Sign out' });
  if (keyboard) await press(page, button);
  else await button.click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
}

/** Waits until the page after a form tells that it was done; to go elsewhere before could cut the form short. */
export async function told(page) {
  await expect(page.getByRole('status').first()).toBeVisible();
}

/** Walks to a control with the Tab key alone; fails where that does not lead there. */
export async function reach(page, locator, { most = 400 } = {}) {
  const target = await locator.elementHandle();
  for (let i = 0; i < most; i++) {
    if (await target.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`The keyboard does not reach ${locator}`);
}

export async function press(page, locator, key = 'Enter') {
  await reach(page, locator);
  await page.keyboard.press(key);
}

export async function type(page, locator, text) {
  await reach(page, locator);
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type(text);
}

/** Chooses from a list by typing the beginning of what it says. */
export async function choose(page, locator, text) {
  await reach(page, locator);
  await page.keyboard.type(text);
}

/** Types a date into a date field, in the order that the browser's language asks for. */
export async function typeDate(page, locator, day, month, year) {
  await reach(page, locator);
  await page.keyboard.type(`${month}${day}${year}`);
}

/** Brings a file in through the form and waits until it has been read. */
export async function bringIn(page, content, { kind = 'orders', name = `${kind}.csv`, keyboard = false } = {}) {
  await page.goto(`${october}/sales/import`);
  const file = content.path ?? { name, mimeType: 'text/csv', buffer: Buffer.from(content) };
  if (keyboard) {
    const chooser = page.waitForEvent('filechooser');
    await press(page, page.getByLabel('File', { exact: true }), 'Enter');
    await (await chooser).setFiles(file);
  } else {
    await page.getByLabel('File', { exact: true }).setInputFiles(file);
  }
  if (kind === 'refunds') await page.getByLabel('refunds, chargebacks and cancellations').check();
  const send = page.getByRole('button', { name: 'Bring it in' });
  if (keyboard) await press(page, send);
  else await send.click();
  await page.waitForURL(/\/sales\/imports\/\d+/);
  await expect(page.locator('[data-finished]')).toBeVisible({ timeout: 60_000 });
}

export const orderHeader = 'order_id,channel,placed_at,paid_at,currency,processor,customer,prices_include_tax,shipping,shipping_tax,coupon_codes,line_id,product,quantity,unit_price,line_tax,requires_shipping';

/** The figures of one row of a table, by its first words. */
export async function cells(page, firstWords) {
  return page.getByRole('row').filter({ hasText: firstWords }).first().getByRole('cell').allInnerTexts();
}

/** axe finds nothing on the page as it stands. */
export async function noViolations(page) {
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.map((v) => `${v.id} ${v.nodes.map((n) => n.target).slice(0, 3).join(' ')}`)).toEqual([]);
}
