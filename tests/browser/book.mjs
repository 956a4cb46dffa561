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
  await expect(page.getByRole('group', { name: 'Month' })).toBeVisible();
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

/** Agrees, by keyboard, to what a change of rules would post: it is shown before anything is. */
export async function agree(page, ...shown) {
  await expect(page.getByRole('heading', { name: 'What this would post' })).toBeVisible();
  for (const words of shown) await expect(page.getByRole('region', { name: 'Differences' })).toContainText(words);
  await press(page, page.getByRole('button', { name: 'Post it' }));
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
  if (kind === 'refunds') await page.getByLabel('It holds').selectOption('Refunds');
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

/** Looks with axe in the page itself, and keeps only what it finds: no page of ours holds another site's, for which it would open a second page each time. */
export function axeOn(page) {
  return new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).setLegacyMode();
}

/** axe finds nothing on the page as it stands. */
export async function noViolations(page) {
  const { violations } = await axeOn(page).analyze();
  expect(violations.map((v) => `${v.id} ${v.nodes.map((n) => n.target).slice(0, 3).join(' ')}`)).toEqual([]);
}

const text = (html) => html.replace(/<[^>]*>/g, ' ').replace(/&#x([0-9A-F]+);/gi, (_, hex) => String.fromCodePoint(parseInt(hex, 16))).replace(/&amp;/g, '&').replace(/&quot;/g, '"').replace(/&lt;/g, '<').replace(/&gt;/g, '>');

/** A figure as digits: without grouping and signs of currencies, nothing as 0. */
const digits = (words) => text(words).replace(/−/g, '-').replace(/[^0-9.-]/g, '').replace(/^0\.00$/, '0') || '0';

/**
 * Walks every page that links lead to from the months given, and reads the figures that bear a name and what on them looks like code.
 * @returns {{ pages: number, figures: Map<string, Map<string, string>>, code: string[] }} By name and what it is of, each value with a page that shows it.
 */
export async function everyFigure(page, months, most = 600) {
  const [figures, code, seen, waiting] = [new Map(), [], new Set(), [...months]];
  while (waiting.length > 0 && seen.size < most) {
    const address = waiting.shift();
    if (seen.has(address)) continue;
    seen.add(address);
    const answer = await page.request.get(address);
    if (!answer.headers()['content-type']?.includes('text/html')) continue;
    expect(answer.status(), address).toBeLessThan(400);
    const html = await answer.text();
    for (const [, , measure, of, value] of html.matchAll(/<(td|span|g)\b[^>]*data-measure="([^"]+)" data-of="([^"]*)"[^>]*>(.*?)<\/\1>/gs)) {
      const name = `${measure} of ${of}`;
      if (!figures.has(name)) figures.set(name, new Map());
      figures.get(name).set(digits(value), address);
    }
    const words = text(html.replace(/<(script|style|code|textarea)\b.*?<\/\1>/gs, ''));
    const strange = words.match(/@(if|foreach|Model|\()|=>|\{\{|EvenSplit\.|System\.[A-Z]|Microsoft\.|\$"/);
    if (strange) code.push(`${address}: ${words.slice(Math.max(0, strange.index - 30), strange.index + 40)}`);
    for (const [, link] of html.matchAll(/href="(\/[^"#]*)"/g)) {
      const to = text(link).split('#')[0];
      if (months.some((month) => to === month || to.startsWith(`${month}/`) || to.startsWith(`${month}?`)) && !/[?&](handler|after|before|entry|find|writeOff)=/.test(to)) waiting.push(to);
    }
  }
  return { pages: seen.size, figures, code };
}

/** Every figure of one name is the same wherever it stands, and many of them stand on several pages. */
export async function figuresAgree(page, months) {
  const { pages, figures, code } = await everyFigure(page, months);
  expect(code).toEqual([]);
  const differing = [...figures].filter(([, values]) => values.size > 1).map(([name, values]) => `${name}: ${[...values].map(([value, address]) => `${value} on ${address}`).join(', ')}`);
  expect(differing).toEqual([]);
  return { pages, figures };
}

/** Asks for the check of the book and waits for it: it compares everything and finds nothing. */
export async function bookHolds(page) {
  await page.goto(`${october}/books`);
  await page.getByRole('link', { name: 'Check', exact: true }).click();
  await press(page, page.getByRole('button', { name: 'Check now' }));
  await expect(async () => {
    await page.goto(`${october}/books/check`);
    await expect(page.getByRole('button', { name: 'Check now' })).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  const table = page.getByRole('region', { name: 'Comparisons' });
  expect(await table.locator('tbody tr').count()).toBeGreaterThanOrEqual(15);
  await expect(table.locator('.minus')).toHaveCount(0);
  await expect(page.getByText('were not compared')).toHaveCount(0);
}
