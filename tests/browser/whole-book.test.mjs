// A payee takes part with some products only, and the book is checked afterwards. By keyboard where a form is sent.
import { expect, test } from '@playwright/test';
import { bookHolds, figuresAgree, noViolations, october, press, reach, signIn, told } from './book.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());

const payee = `${october}/people/quiet-field-podcast`;

/** The form under one of the payee's times on their agreement, opened. */
async function change(place) {
  const details = page.locator('details', { has: page.locator('form.approval') })[place]();
  if (await details.getAttribute('open') === null) await press(page, details.locator('summary'));
  return details.locator('form.approval');
}

test('what a payee takes part with is approved from a day on; a day after their time is refused, and what was typed stays', async () => {
  await page.goto(payee);
  const ended = await change('first');
  const today = await ended.getByLabel('From').inputValue();
  await ended.getByLabel('From').fill('2027-02-01');
  await ended.getByLabel('With').selectOption('only those marked below');
  await press(page, ended.getByRole('button', { name: 'Save' }));
  await expect(page.getByText(/Their time on it ends on .*; choose a day before/).first()).toBeVisible();
  const kept = await change('first');
  await expect(kept.getByLabel('From')).toHaveValue('1 Feb 2027');
  await expect(kept.getByLabel('With')).toHaveValue('false');

  await kept.getByLabel('From').fill(today);
  await kept.getByRole('checkbox').first().check();
  const product = (await kept.locator('fieldset label').first().innerText()).trim();
  await press(page, kept.getByRole('button', { name: 'Save' }));
  await told(page);
  await expect(page.getByRole('region', { name: 'Agreements' }).getByRole('row', { name: new RegExp(`1 Dec 2026 ${product}`) })).toBeVisible();
  await noViolations(page);
});

test('the coverage map tells how many products are approved', async () => {
  await page.goto(`${october}/terms/coverage`);
  await expect(page.getByText(/\d+ approved/).first()).toBeVisible();
});

test('after all that was corrected in it figures of one name still agree', async () => {
  test.setTimeout(300_000);
  await figuresAgree(page, [october, '/2026-11']);
});

test('the check of the book is asked for and finds nothing, whatever was done before', async () => {
  await bookHolds(page);
  await reach(page, page.getByRole('region', { name: 'Comparisons' }));
  await noViolations(page);
});
