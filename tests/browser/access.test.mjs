// No page has a fault that axe finds; every page reads on a phone; pages read with scripts off.
import { expect, test } from '@playwright/test';
import { axeOn, october, signIn } from './book.mjs';

async function addresses(page) {
  await page.goto(`${october}/sales?kind=exceptions`);
  const order = await page.locator('a[data-open]').first().getAttribute('href');
  await page.goto(order);
  const entry = await page.locator('a[data-open]').first().getAttribute('href');
  await page.goto(`${october}/pay`);
  const run = await page.locator('a[data-open]').last().getAttribute('href');
  await page.goto(`${october}/sales/import`);
  const file = await page.locator('tbody a').first().getAttribute('href');
  return [
    october, `${october}/sales`, order, `${order}${entry}`, `${october}/sales/import`, file, `${october}/sales/quarantine`, `${october}/terms`, `${october}/terms/new`,
    `${october}/terms/friends-of-the-hedge`, `${october}/terms/friends-of-the-hedge/next`, `${october}/terms/products`, `${october}/terms/products/guide-hedgerow`,
    `${october}/sales/exceptions`, `${october}/sales/fees`, `${october}/sales/clicks`, `${october}/sales/tests`, `${october}/sales/sources`, `${october}/sales/assign`,
    '/2026-11/pay/calendar', '/2026-11/pay/ahead', `${october}/pay/results`, `${october}/pay/bench`, `${october}/pay/bench/bank`, `${october}/pay/bench/partners`, `${october}/pay/adjustments`, `${october}/pay/owed`, `${october}/pay/details`, `${october}/pay/set-up`, `${october}/pay/mail`, `${october}/pay/sign-off`, `${october}/pay/held`, `${october}/people/refund-rates`, `${october}/terms/paths`, `${october}/terms/paths/after-a-field-guide`, `${october}/terms/targets`, `${october}/terms/targets/leaderboards`, `${october}/terms/rewards`, `${october}/terms/coverage`, `${october}/terms/bulk`, `${october}/terms/new?copy=school-network`, `${october}/terms/school-network`, `${october}/people/low-tide-podcast`, `${october}/people`, `${october}/people/ines-fennelow`,
    `${october}/people/ines-fennelow/edit`, `${october}/people/new`, `${october}/people/ines-fennelow/terms/new`, `${october}/sales/by-hand`, `${october}/sales/by-hand?kind=Refund`, `${october}/pay`, run, `${run}/statement/ines-fennelow`, `${october}/books`, `${october}/books/check`, `${october}/books/journal`, `${october}/books/ageing`, `${october}/set-up/mails`, `${october}/people/applications`, `${october}/people/invitations`, `${october}/people/contacts`, `${october}/people/materials`, `${october}/people/questions`, `${october}/people/tax-forms`, `${october}/terms/friends-of-the-hedge/shows`, `${october}/terms/friends-of-the-hedge/joining`, `${october}/books/proof`, `${october}/books/record`, `${october}/books/safety`, `${october}/books/policies`, `${october}/sales/unknown`, `${order.replace('/sales/', '/sales/by-hand?order=')}`, '/second-factor', `${october}/people/quiet-field-podcast`, `${october}/users`,
    `${october}/find?find=pond`, '/2024-01', '/2024-01/sales', '/2026-10/nowhere',
  ];
}

/** In the dark the same pages differ by their colours alone. */
async function violations(page, colorScheme) {
  // A long table is looked at by its first rows: the others are written by the same lines.
  const axe = axeOn(page).exclude('tbody tr:nth-child(n+12)');
  const { violations: found } = await (colorScheme === 'dark'
    ? axe.withRules(['color-contrast', 'link-in-text-block'])
    : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])).analyze();
  return found.map((v) => `${page.url()}: ${v.id} ${v.nodes.map((n) => n.target).slice(0, 3).join(' ')}`);
}

/** What should be seen and cannot be: squeezed to nothing, or wholly transparent. */
const unseen = (page) => page.evaluate(() => [...document.querySelectorAll('main :is(table, h1, h2, h3, p, ul, ol, dl)')]
  .filter((part) => part.textContent.trim() && part.checkVisibility() && !part.closest('.sr-only'))
  .filter((part) => part.offsetWidth < 4 || part.offsetHeight < 4 || !part.checkVisibility({ opacityProperty: true }))
  .map((part) => `${location.pathname}: ${part.tagName.toLowerCase()} ${part.className} cannot be seen`));

/** How many tables there are, on the screen or on paper. */
const tables = (page) => page.evaluate(() => [...document.querySelectorAll('main table.ledger')].filter((table) => table.checkVisibility() && !table.closest('.no-print, .actions, details')).length);

/** What is a table on the screen and not on paper. */
async function unprinted(page) {
  const onScreen = await tables(page);
  await page.emulateMedia({ media: 'print' });
  const onPaper = await tables(page);
  await page.emulateMedia({ media: 'screen' });
  return onPaper === onScreen ? [] : [`${page.url()}: ${onPaper} of ${onScreen} tables are printed`];
}

test('axe finds nothing on any page, by day or by night, all can be seen and is printed, and the browser reports no error', async ({ page }) => {
  test.setTimeout(1_200_000);
  const [found, errors] = [[], []];
  page.on('console', (message) => message.type() === 'error' && !message.text().includes('404') && errors.push(`${page.url()}: ${message.text()}`));
  page.on('pageerror', (error) => errors.push(`${page.url()}: ${error.message}`));
  const look = async (address) => {
    await page.goto(address);
    for (const colorScheme of ['light', 'dark']) {
      await page.emulateMedia({ colorScheme });
      found.push(...await violations(page, colorScheme));
    }
    found.push(...await unseen(page), ...await unprinted(page));
  };
  await look('/sign-in');
  await signIn(page, 'lead');
  for (const address of await addresses(page)) await look(address);
  expect(found).toEqual([]);
  expect(errors).toEqual([]);
});

test('desk, trace and run fit a phone 390 px wide', async ({ browser }) => {
  const page = await browser.newPage({ viewport: { width: 390, height: 800 } });
  await signIn(page, 'lead');
  for (const address of (await addresses(page)).filter((a) => a === october || a.includes('entry=') || /\/pay\/\d+$/.test(a) || a.endsWith('low-tide-podcast'))) {
    await page.goto(address);
    const width = await page.evaluate(() => Math.max(document.documentElement.scrollWidth, document.querySelector('main').scrollWidth));
    expect(width, address).toBeLessThanOrEqual(390);
  }
  await page.close();
});

test('every page reads with scripts off', async ({ browser }) => {
  const page = await browser.newPage();
  await signIn(page, 'lead');
  const all = await addresses(page);
  const plain = await (await browser.newContext({ javaScriptEnabled: false, storageState: await page.context().storageState() })).newPage();
  for (const address of all) {
    await plain.goto(address, { waitUntil: 'domcontentloaded' });
    await expect(plain.getByRole('heading', { level: 1 }), address).toBeVisible();
  }
  await page.close();
});

test('arrow keys walk through a table, Enter opens, ? lists the keys', async ({ page }) => {
  await signIn(page, 'lead');
  await page.goto(`${october}/sales`);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('tbody tr').nth(2).locator('a[data-open]')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  const second = page.locator('tbody tr').nth(1).locator('a[data-open]');
  await expect(second).toBeFocused();
  const name = await second.innerText();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await second.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name);
});
