// October is reconciled on all three benches, by keyboard: every finding met, each settled one way or another, to nothing open.
import { expect, test } from '@playwright/test';
import { noViolations, october, signIn } from './book.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext()).newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.context().close());

const title = () => page.getByRole('heading', { level: 1 });
const open = async () => Number((await title().innerText()).match(/(\d+) open/)?.[1] ?? 0);

/** What the findings of the bench are called, as the list above it has them. */
const findings = () => page.locator('.findings a').allInnerTexts();

/** Does what a key does, and waits until the next row has come by itself. */
async function press(key) {
  const before = await page.locator('#pane-title').innerText();
  await page.keyboard.press(key);
  return before;
}

/** Lets the open row stand with a reason. */
async function letStand(reason) {
  const before = await open();
  await press('a');
  await expect(page.getByLabel('Why', { exact: true })).toBeFocused();
  await page.keyboard.type(reason);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('1 row');
  await expect.poll(open).toBe(before - 1);
}

test('the bench of processors shows every finding and draws what belongs together', async () => {
  await page.goto(`${october}/pay/bench`);
  await noViolations(page);
  const words = await findings();
  for (const code of ['another fee', 'another amount', 'in another currency', 'not in the book', 'settled twice', 'not paid in the book', 'does not add up', 'late, not settled']) expect(words).toContain(code);
  await expect(page.getByText('card: charged 1.75 % + €0.25')).toBeVisible();
  for (const line of ['belong together and differ', 'perhaps', 'only ours']) await expect(page.getByRole('img', { name: line }).first()).toBeVisible();
  // Where both agree there is nothing between.
  await page.goto(`${october}/pay/bench?shows=agreed`);
  await expect(page.getByRole('img', { name: 'both agree' }).first()).toBeVisible();
  await noViolations(page);
});

test('their fee is taken after what it posts was shown, and taken back', async () => {
  await page.goto(`${october}/pay/bench?finding=fee-differs`);
  const before = await open();
  const line = await page.locator('#pane-title').innerText();
  await page.keyboard.press('t');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What this would post');
  await expect(page.getByRole('region', { name: 'Differences' })).toContainText('House');
  await page.getByRole('button', { name: 'Post it' }).click();
  await expect(page.getByRole('status').first()).toContainText('Their fee is taken');
  await expect(page.locator('#pane-title')).not.toHaveText(line);
  await page.goto(`${october}/pay/bench?shows=settled`);
  await page.locator('table.bench a[data-open]').first().click();
  await expect(page.locator('#pane')).toContainText('Their fee taken by Maeve Thornfield');
  await page.keyboard.press('u');
  await page.getByRole('button', { name: 'Post it' }).click();
  await expect(page.getByRole('status').first()).toContainText('Undone');
  await expect(title()).toContainText(`${before} open`);
});

test('a suggestion is accepted with one key, and a link that cannot be says why', async () => {
  await page.goto(`${october}/pay/bench?finding=not-in-book`);
  await page.keyboard.press('l');
  await page.keyboard.type('sale:nowhere');
  await page.keyboard.press('Enter');
  await expect(page.locator('.fault').first()).toContainText('Nothing called sale:nowhere is awaited');
  await page.goto(`${october}/pay/bench?finding=not-in-book`);
  await page.getByRole('link', { name: /^SH-/ }).click();
  await expect(page.locator('#pane')).toContainText('same amount');
  const before = await open();
  await page.keyboard.press('a');
  await expect(page.getByRole('status').first()).toContainText('Linked');
  expect(before - (await open())).toBeGreaterThanOrEqual(1);
});

test('the rest of the processors: all fees of the settlements, then one after another', async () => {
  for (let settlements = 0; settlements < 6; settlements++) {
    await page.goto(`${october}/pay/bench?finding=fee-differs`);
    const all = page.getByRole('button', { name: /^Take all fees of/ });
    if ((await all.count()) === 0) break;
    await all.click();
    await page.getByRole('button', { name: 'Post it' }).click();
    await expect(page.getByRole('status').first()).toContainText('taken');
  }
  await page.goto(`${october}/pay/bench`);
  await page.keyboard.press('w');
  await expect(page.getByLabel('Wait until')).toBeFocused();
  await page.getByLabel('Wait until').fill('2026-12-01');
  await page.keyboard.press('Enter');
  for (let left = await open(); left > 0; left = await open()) await letStand('looked into with the processor');
  await expect(title()).toContainText('none open');
});

test('the bank to nothing open', async () => {
  await page.goto(`${october}/pay/bench/bank`);
  await noViolations(page);
  const words = await findings();
  for (const code of ['another amount', 'not in the book', 'late, on no statement', 'late payout', 'twice', 'paid though stopped']) expect(words).toContain(code);
  await page.getByRole('link', { name: 'Account charges' }).click();
  await page.getByLabel('Link to').fill('payout:of nobody');
  await page.getByRole('button', { name: /^Link/ }).click();
  await expect(page.getByLabel('Link to')).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByLabel('Link to')).toHaveValue('payout:of nobody');
  await page.getByLabel('Book it to').selectOption('bank charges');
  await page.keyboard.press('Escape');
  await page.locator('#pane').focus();
  await page.keyboard.press('b');
  await expect(page.getByRole('status').first()).toContainText('Booked');
  await page.getByLabel('Take every suggestion at least so sure, in %').fill('90');
  await page.getByRole('button', { name: 'Take them' }).click();
  await expect(page.getByRole('status').first()).toContainText(/\d+ suggestions? taken/);
  for (let left = await open(); left > 0; left = await open()) await letStand('asked the bank');
  await expect(title()).toContainText('none open');
});

test('partners to nothing open', async () => {
  await page.goto(`${october}/pay/bench/partners`);
  await noViolations(page);
  const words = await findings();
  for (const code of ['another amount', 'only theirs', 'only ours']) expect(words).toContain(code);
  for (let left = await open(); left > 0; left = await open()) await letStand('agreed by telephone');
  await expect(title()).toContainText('none open');
  await page.goto(october);
  await expect(page.locator('.steps')).toContainText('Processors and partners agree with the book');
  await expect(page.locator('.steps')).toContainText('The bank agrees with the book');
});
