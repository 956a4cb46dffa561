// How things are sold and what is promised around it: an offer path, a price plan that catches a slip, a target, a friend's reward. After the month end in the same book.
import { expect, test } from '@playwright/test';
import { bringIn, choose, noViolations, october, orderHeader, press, reach, signIn, told, type } from './book.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());

test('an offer path is drawn by keyboard; answers are told apart by words and line', async () => {
  await page.goto(`${october}/terms/paths/new`);
  await type(page, page.getByLabel('Name', { exact: true }), 'After a nest box');
  await choose(page, page.getByLabel('Offered in step 1'), 'Nest box, barn');
  await choose(page, page.getByLabel('Where step 1 leads when accepted'), 'go on to step 2');
  await choose(page, page.getByLabel('Where step 1 leads when declined'), 'go on to step 3');
  await choose(page, page.getByLabel('Offered in step 2'), 'Bat box');
  await choose(page, page.getByLabel('Offered in step 3'), 'Seed: hedge');
  await choose(page, page.getByLabel('Where step 3 leads when declined'), 'go on to step 1');
  await press(page, page.getByRole('button', { name: 'Save the path' }));
  await expect(page.getByText('From this step the answers lead back to it')).toBeVisible();
  await expect(page.getByLabel('Offered in step 2')).toHaveValue('box-bat');
  await choose(page, page.getByLabel('Where step 3 leads when declined'), 'the path');
  await press(page, page.getByRole('button', { name: 'Save the path' }));
  await told(page);
  await expect(page.getByRole('img', { name: /1\. Nest box, barn owl, €89\.00: accepted leads to 2, declined leads to 3\./ })).toBeVisible();
  await expect(page.locator('svg.path path.answer.declined').first()).toHaveCSS('stroke-dasharray', /\d/);
  await noViolations(page);
});

test('a price plan set by keyboard finds the order that is off it', async () => {
  await page.goto(`${october}/terms/products/seed-meadow`);
  await press(page, page.locator('summary', { hasText: 'Change the product' }));
  await choose(page, page.getByLabel('The price is'), 'rising');
  await press(page, page.getByRole('button', { name: 'Save' }));
  await expect(page.getByText('Say by how much the price goes up.')).toBeVisible();
  await choose(page, page.getByLabel('The price is'), 'a minimum');
  await press(page, page.getByRole('button', { name: 'Save' }));
  await told(page);
  await expect(page.getByText('€12.50 a unit or more, as the buyer chooses.')).toBeVisible();
  await bringIn(page, `${orderHeader}\nPP-1,shop,2026-11-02T10:00:00Z,2026-11-02T10:05:00Z,EUR,,new,no,,,,1,seed-meadow,1,9.00,0,yes\nPP-2,shop,2026-11-02T10:00:00Z,2026-11-02T10:05:00Z,EUR,,new,no,,,,1,seed-meadow,1,15.00,0,yes\n`);
  await page.goto(`${october}/sales/PP-1`);
  await expect(page.getByText('Off plan: line 1 was sold at €9.00 a unit where the plan says €12.50.')).toBeVisible();
  await page.goto(`${october}/sales/PP-2`);
  await expect(page.getByText('Off plan')).toHaveCount(0);
});

test('a cost from a day on is set and taken out again', async () => {
  await page.goto(`${october}/terms/products/seed-meadow`);
  await page.getByRole('button', { name: 'Set the cost' }).click();
  await expect(page.getByText('Say from which day.')).toBeVisible();
  await page.locator('input[name="CostFrom"]').fill('2026-11-01');
  await page.getByLabel('a unit costs').fill('4.10');
  await page.getByRole('button', { name: 'Set the cost' }).click();
  await told(page);
  await expect(page.getByRole('row', { name: /from 1 Nov 2026/ })).toContainText('€4.10');
  await noViolations(page);
  await page.getByRole('button', { name: 'Take out the cost from 1 Nov 2026' }).click();
  await expect(page.getByRole('row', { name: /from 1 Nov 2026/ })).toHaveCount(0);
});

test('who reached the target is on the desk; the bonus is an adjustment once it is given', async () => {
  await page.goto(october);
  await page.getByRole('link', { name: /reached a target: decide/ }).click();
  await noViolations(page);
  await press(page, page.getByRole('button', { name: 'Give it to Stone Wall Podcast' }));
  await expect(page.getByRole('row', { name: /Stone Wall Podcast/ })).toContainText('given by Maeve Thornfield');
  await page.getByLabel('Why Low Tide Podcast does not get it').fill('Had it in kind');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /Low Tide Podcast/ })).toContainText('declined by Maeve Thornfield: Had it in kind');
  await page.goto(`${october}/people/stone-wall-podcast`);
  await expect(page.getByText('The autumn hedge, October 2026')).toBeVisible();
});

test('the report of rewards shows discounts, credit and totals; credit is given once', async () => {
  await page.goto(`${october}/terms/rewards`);
  await expect(page.getByRole('row', { name: /HS-20004/ })).toContainText('off by −€2.40');
  await expect(page.getByRole('row', { name: /HS-20003/ })).toContainText('not a new customer');
  await expect(page.getByRole('row', { name: /HS-20005/ })).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Orders of friends' }).locator('tfoot')).toContainText('5.04');
  await noViolations(page);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Give it/ }).click();
  const text = (await (await (await download).createReadStream()).toArray()).join('');
  expect(text).toContain('c0301,Petra Lindqvale,2.28,EUR');
  await page.reload();
  await expect(page.getByRole('button', { name: /^Give it/ })).toHaveCount(0);
});

test('a published version is withdrawn before its day', async () => {
  await page.goto(`${october}/terms/print-artists/next`);
  await page.getByLabel('In force from').fill('2027-03-01');
  await page.getByRole('button', { name: 'Publish' }).click();
  await told(page);
  await reach(page, page.getByRole('button', { name: 'Withdraw it: the version from 1 Mar 2027' }));
  await page.keyboard.press('Enter');
  await expect(page.getByText('withdrawn by Maeve Thornfield before it came into force')).toBeVisible();
});
