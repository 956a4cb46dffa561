// A month is proved, closed by two persons, and stays as it was when a refund of it comes late. Near the end of the suite: what it closes stays closed, and the forms after it end people too.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { bringIn, noViolations, signIn, told } from './book.mjs';
import { command } from './command.mjs';
import { demoFolder } from './places.mjs';

test.describe.configure({ mode: 'serial', timeout: 300_000 });

const month = '/2026-03';
const ofDemo = (...args) => command(...args, '--data', demoFolder);
const proof = () => ofDemo('export', 'proof', '--period', '2026-03').trim().split('\r\n').slice(1).map((row) => row.split(','));

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext()).newPage();
  page.on('dialog', (asked) => asked.accept());
  await signIn(page, 'lead');
});
test.afterAll(() => page.context().close());

/** What others left in quarantine keeps every month open. */
async function emptyQuarantine() {
  for (;;) {
    await page.goto(`${month}/sales/quarantine`);
    const discard = page.getByRole('button', { name: 'Discard', exact: false }).first();
    if ((await discard.count()) === 0) return;
    await discard.click();
    await page.waitForLoadState('networkidle');
  }
}

/** What the tests before have left open on the benches is let stand. */
async function emptyBenches() {
  for (const bench of ['', '/bank', '/partners']) {
    await page.goto(`${month}/pay/bench${bench}`);
    const all = page.getByLabel('Mark all');
    if ((await all.count()) === 0) continue;
    await all.check();
    await page.getByRole('button', { name: 'Let them stand' }).click();
    await expect(page.getByLabel('Because')).toHaveAttribute('aria-invalid', 'true');
    await expect(page.locator('[name=Marked]:not(:checked)')).toHaveCount(0);
    await page.getByLabel('Because').fill('looked at');
    await page.getByRole('button', { name: 'Let them stand' }).click();
    await told(page);
  }
}

test('a month is proved, with the way to what is behind each figure', async () => {
  await emptyQuarantine();
  await page.goto(`${month}/books/proof`);
  await noViolations(page);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/all \d+ checks hold/);
  expect(proof().every((row) => row[5] === 'true')).toBe(true);
  await page.getByRole('link', { name: 'The journal balances' }).first().click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Journal');
  await noViolations(page);
  await page.getByRole('link', { name: 'Income:Sales' }).first().click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Ledger of Income:Sales');
  await noViolations(page);
  await page.getByRole('region', { name: 'Postings' }).getByRole('link').first().click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('HS-');
});

test('the journal of the whole book balances for a reader of journals, and comes to what the proof says', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'journal-')), 'book.journal');
  writeFileSync(file, ofDemo('export', 'journal', '--to', '2026-03-31'));
  execFileSync('hledger', ['-f', file, 'check']);
  const owed = execFileSync('hledger', ['-f', file, 'balance', '^Liabilities:Earnings:', '-N', '--flat', '-O', 'csv']).toString().trim().split('\n').slice(1).map((row) => row.replaceAll('"', '').split(','));
  const closing = proof().filter((row) => row[0] === 'earnings' && row[4] !== '0.00');
  expect(owed.length).toBe(closing.length);
  for (const [account, amount] of owed) {
    const [number, currency] = amount.split(' ');
    expect(closing.find((row) => account === `Liabilities:Earnings:${row[1]}` && row[2] === currency)?.[4]).toBe((-Number(number)).toFixed(2));
  }
});

test('two persons close it; the desk and the page bear the seal', async ({ browser }) => {
  await emptyBenches();
  await page.goto(`${month}/books/proof`);
  await page.getByRole('button', { name: 'Close March 2026' }).click();
  await expect(page.getByRole('status').first()).toContainText('once somebody else confirms');
  // Who has closed it is told, and not offered what would be refused.
  await expect(page.getByRole('button', { name: 'Take it back' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Confirm that it is closed' })).toHaveCount(0);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'approver');
  await other.goto(`${month}/books/proof`);
  await other.getByRole('button', { name: 'Confirm that it is closed' }).click();
  await expect(other.getByText('March 2026 is closed.').first()).toBeVisible();
  await noViolations(other);
  await other.context().close();
  await page.goto(month);
  await expect(page.locator('.steps')).toContainText('March 2026 is closed, by Maeve Thornfield and Ruadhan Kestrelby');
});

test('a refund of it that comes late is posted today, and no figure of the month has changed', async () => {
  const before = proof().filter((row) => row[0] === 'earnings');
  await page.goto(`${month}/sales?kind=paid`);
  const orders = await page.locator('a[data-open]').allInnerTexts();
  const refunds = orders.slice(0, 12).map((id, i) => `LATE-${i},${id.trim()},2026-03-30T09:00:00Z,cancel`);
  await bringIn(page, `refund_id,order_id,at,kind\n${refunds.join('\n')}\n`, { kind: 'refunds' });
  await expect(async () => {
    await page.goto(`${month}/books/proof`);
    await expect(page.getByRole('region', { name: 'Came after the close' })).toContainText('refund LATE-', { timeout: 500 });
  }).toPass({ timeout: 60_000 });
  expect(proof().filter((row) => row[0] === 'earnings')).toEqual(before);
  await page.goto(`${month}/books`);
  await expect(page.locator('main')).not.toContainText('LATE-');
});
