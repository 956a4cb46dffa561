// What was wrong is put right in the browser: what is shown before is what is posted, and the book then comes to what calc makes of its facts.
import { expect, test } from '@playwright/test';
import { noViolations, october, press, reach, signIn, told, type } from './book.mjs';
import { command } from './command.mjs';
import { demoFolder } from './places.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());


/** What each payee has earned in all, by currency, in minor units. */
function earned(result) {
  const sums = {};
  for (const e of JSON.parse(result).entries) sums[`${e.payee} ${e.currency}`] = (sums[`${e.payee} ${e.currency}`] ?? 0) + e.amount;
  return sums;
}
const ofBook = () => earned(command('result', '--data', demoFolder));

/** The differences that the open page shows, of payees, in minor units of euro and pound. */
async function shownDifferences() {
  await expect(page.getByRole('heading', { name: 'What this would post' })).toBeVisible();
  const rows = await page.getByRole('region', { name: 'Differences' }).locator('tbody tr').evaluateAll((all) => all.map((row) => [...row.cells].map((cell) => cell.innerText.trim())));
  return rows.filter(([name]) => name !== 'House').map(([, , amount]) => (amount === '–' ? 0 : Math.round(Number(amount.replace('−', '-').replaceAll(',', '')) * 100))).filter((amount) => amount !== 0).sort((a, b) => a - b);
}

/** Agrees to what is shown, and holds it against what that posted and against calc. */
async function agreedTo() {
  const [before, shown] = [ofBook(), await shownDifferences()];
  await noViolations(page);
  await press(page, page.getByRole('button', { name: 'Post it' }));
  await told(page);
  const after = ofBook();
  const posted = [...new Set([...Object.keys(before), ...Object.keys(after)])].map((key) => (after[key] ?? 0) - (before[key] ?? 0)).filter((amount) => amount !== 0).sort((a, b) => a - b);
  expect(posted).toEqual(shown);
  const worked = earned(command('calc', '-', { input: command('export', 'scenario', '--data', demoFolder) }));
  expect(Object.fromEntries(Object.entries(after).filter(([, sum]) => sum !== 0))).toEqual(Object.fromEntries(Object.entries(worked).filter(([, sum]) => sum !== 0)));
  return shown;
}

test('a code counts until a day only; what was earned by it since is taken back', async () => {
  test.setTimeout(200_000);
  await page.goto(`${october}/people/low-tide-podcast`);
  const codes = page.getByRole('region', { name: 'Codes' });
  await press(page, codes.locator('summary').first());
  await codes.getByLabel('Until').fill('2026-10-01');
  await press(page, codes.getByRole('button', { name: 'Save' }));
  const taken = await agreedTo();
  expect(Math.min(...taken)).toBeLessThan(0);
  await expect(codes.getByRole('row').nth(1)).toContainText('1 Oct 2026');
  await page.goto(`${october}/sales/exceptions`);
  await expect(page.getByText(/A code of Low Tide Podcast was used while it was not in force/).first()).toBeVisible();
});

test('it never ended: the same is given back', async () => {
  test.setTimeout(200_000);
  await page.goto(`${october}/people/low-tide-podcast`);
  const codes = page.getByRole('region', { name: 'Codes' });
  await press(page, codes.locator('summary').first());
  await codes.getByLabel('Until').fill('');
  await press(page, codes.getByRole('button', { name: 'Save' }));
  expect(Math.max(...await agreedTo())).toBeGreaterThan(0);
});

test('somebody was on an agreement from a later day on; a wrong end is told, and what was typed stays', async () => {
  test.setTimeout(200_000);
  await page.goto(`${october}/terms/friends-of-the-hedge`);
  const row = page.getByRole('row', { name: /Low Tide Notebook/ });
  await press(page, row.locator('summary'));
  await row.getByLabel('From', { exact: true }).fill('2026-09-15');
  await row.getByLabel('Until', { exact: true }).fill('2026-09-15');
  await press(page, row.getByRole('button', { name: 'Save' }));
  await expect(page.getByText('That is not after 15 Sept 2026, when it begins.').or(page.getByText('That is not after 15 Sep 2026, when it begins.'))).toBeVisible();
  await expect(row.getByLabel('From', { exact: true })).toHaveValue('15 Sep 2026');
  await row.getByLabel('Until', { exact: true }).fill('');
  await press(page, row.getByRole('button', { name: 'Save' }));
  expect(Math.min(...await agreedTo())).toBeLessThan(0);
  await expect(page.getByRole('row', { name: /Low Tide Notebook/ })).toContainText('15 Sep 2026');
});

test('a refund never was, and was after all, of another amount', async () => {
  test.setTimeout(300_000);
  await page.goto(`${october}/sales?kind=refunded`);
  const order = await page.locator('a[data-open]').first().getAttribute('href');
  await page.goto(order);
  const reason = page.getByLabel(/^Why refund .* never was$/).first();
  await press(page, page.getByRole('button', { name: 'Withdraw' }).first());
  await expect(page.getByText('Say why; it stands beside the refund.')).toBeVisible();
  await type(page, reason, 'booked twice by the shop');
  await press(page, page.getByRole('button', { name: 'Withdraw' }).first());
  await agreedTo();
  await expect(page.getByText(/withdrawn by .*: booked twice by the shop/)).toBeVisible();
  await press(page, page.getByRole('link', { name: /It was right after all/ }));
  await reach(page, page.getByLabel('Line 1, line'));
  await press(page, page.getByRole('button', { name: 'Enter it' }));
  await agreedTo();
});

test('an order was only a try, and was not', async () => {
  test.setTimeout(200_000);
  await page.goto(`${october}/people/ines-fennelow`);
  await page.goto(await page.locator('td a[href*="/sales/"], a[data-open]').first().getAttribute('href').then((href) => href.startsWith('?') ? `${october}/sales` : href));
  if (page.url().endsWith('/sales')) await page.goto(await page.locator('a[data-open]').first().getAttribute('href'));
  const order = page.url();
  await press(page, page.getByText('Correct what is known about this order'));
  await press(page, page.getByRole('button', { name: 'Mark as a test' }));
  await agreedTo();
  await page.goto(order);
  await press(page, page.getByRole('button', { name: 'It was no test' }));
  await agreedTo();
});

test('an order is changed by hand: it says what is said otherwise, and what that posts', async () => {
  test.setTimeout(200_000);
  await page.goto(`${october}/sales?kind=paid`);
  await page.goto(await page.locator('a[data-open]').first().getAttribute('href'));
  await press(page, page.getByRole('link', { name: 'Change it by hand' }));
  const price = page.getByLabel('Line 1, price a unit');
  const before = await price.inputValue();
  await type(page, price, '199.00');
  await press(page, page.getByRole('button', { name: 'Enter it' }));
  await expect(page.getByText(`unit price: from ${before} to 199.00`)).toBeVisible();
  await agreedTo();
});

test('what somebody changed meanwhile stands beside what was typed, field by field, and is chosen', async () => {
  const edit = `${october}/people/far-orchard-letter/edit`;
  const other = await page.context().newPage();
  await page.goto(edit);
  await other.goto(edit);
  await other.getByLabel('Minimum payment').fill('15.00');
  await other.getByLabel('E-mail').fill('letter@orchard.example');
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByRole('heading', { level: 1 })).toContainText('Far Orchard Letter');
  await page.getByLabel('E-mail').fill('far@orchard.example');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('alert').first()).toContainText('after you had opened it');
  await expect(page.getByText('In the book by now: 15.00')).toBeVisible();
  await expect(page.getByText('In the book by now: letter@orchard.example')).toBeVisible();
  await noViolations(page);
  // The smallest payment is taken from the other, the address stays as it was typed.
  await page.getByText('In the book by now: 15.00').getByRole('button', { name: 'Take that' }).click();
  await expect(page.getByLabel('Minimum payment')).toHaveValue('15.00');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.goto(edit);
  await expect(page.getByLabel('Minimum payment')).toHaveValue('15.00');
  await expect(page.getByLabel('E-mail')).toHaveValue('far@orchard.example');
  await other.close();
});
