// What needs a person and what clears when: exceptions by cause, fees and rates, the calendar, holds, refund rates. Last in the same book.
import { expect, test } from '@playwright/test';
import { agree, bringIn, noViolations, october, orderHeader, press, reach, signIn, told } from './book.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());

test('one fee schedule clears every order that missed it', async () => {
  await page.goto(`${october}/sales/exceptions`);
  const cause = page.getByRole('region', { name: /The processor gift-voucher has no fee schedule/ });
  await expect(cause.first()).toBeVisible();
  await noViolations(page);
  await press(page, cause.first().getByRole('link', { name: 'Give the processor a schedule' }));
  await expect(page.getByLabel('Processor', { exact: true })).toHaveValue('gift-voucher');
  await page.locator('#Processor_Percent').fill('two');
  await press(page, page.getByRole('button', { name: 'Save the processor’s schedule' }));
  await expect(page.getByText('Give a percentage such as 12.5')).toBeVisible();
  await page.locator('#Processor_Percent').fill('1');
  await press(page, page.getByRole('button', { name: 'Save the processor’s schedule' }));
  await expect(page.getByRole('heading', { name: 'What this would post' })).toBeVisible();
  await noViolations(page);
  await agree(page, 'House');
  await told(page);
  await noViolations(page);
  await expect(async () => {
    await page.goto(`${october}/sales/exceptions`);
    await expect(page.getByText('The processor gift-voucher has no fee schedule')).toHaveCount(0, { timeout: 500 });
  }).toPass({ timeout: 60_000 });
});

test('an exception is given to somebody, commented on, and let stand with a reason', async () => {
  const cause = page.getByRole('region', { name: 'Nest box, barn owl was sold off its plan.', exact: true });
  await cause.getByLabel('Comment').fill('The shop’s price was mistyped for an hour');
  await cause.getByLabel('give it to').selectOption('Maeve Thornfield');
  await cause.getByRole('button', { name: /^Note it/ }).click();
  await expect(cause.getByText('Maeve Thornfield has it')).toBeVisible();
  await cause.getByRole('button', { name: 'Accept HS-20006 as it is' }).click();
  await expect(page.getByText('Say why it may stand; an auditor will ask.')).toBeVisible();
  await page.getByLabel('Why HS-20006 may stand').fill('Honoured for the customer');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('1 exception may stand.');
  await expect(cause).toHaveCount(0);
});

test('a file of rates is taken whole or with its faults named', async () => {
  const send = async (content) => {
    await page.goto(`${october}/sales/fees`);
    await page.locator('input[name="RatesFile"]').setInputFiles({ name: 'rates.csv', mimeType: 'text/csv', buffer: Buffer.from(content) });
    await page.getByRole('button', { name: 'Take the rates' }).click();
  };
  await send('Date,USD,CHF\n2027-05-03,1.08,nothing\nsoon,1.09,0.93\n');
  await expect(page.getByRole('alert').locator('li')).toHaveText([/Row 2: CHF 'nothing'/, /Row 3: date 'soon'/]);
  await send('Date,USD,CHF\n2027-05-03,1.08,0.93\n2027-05-04,1.09,N/A\n');
  await expect(page.getByRole('status').first()).toContainText('3 rates taken');
  await expect(page.getByRole('row', { name: /3 May 2027 EUR CHF 0\.93/ })).toBeVisible();
  // As others publish them: which column is which is found, shown and may be said otherwise.
  await send('Stichtag;Von;Nach;Kurs\n05.05.2027;EUR;CHF;0,94\n');
  await expect(page.getByRole('heading', { name: /rates\.csv: which column is which/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^2 2027-05-05 EUR CHF 0\.94$/ })).toBeVisible();
  await page.getByLabel('Remember as').fill('');
  await page.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.getByRole('status').first()).toContainText('1 rate taken');
  await expect(page.getByRole('row', { name: /5 May 2027 EUR CHF 0\.94/ })).toBeVisible();
});

test('a file of adjustments shows what it adds before anything is added', async () => {
  const send = async (content) => {
    await page.goto(`${october}/pay/adjustments`);
    await page.getByLabel('File', { exact: true }).setInputFiles({ name: 'bonuses.csv', mimeType: 'text/csv', buffer: Buffer.from(content) });
    await page.getByRole('button', { name: 'Show what it adds' }).click();
    await page.getByLabel('Remember as').fill('');
  };
  const theirs = 'Affiliate;Tag;Betrag;Grund\nines-fennelow;02.11.2026;1.025,50;Best of October\nlow-tide-podcast;02.11.2026;-12,00;Sample kept\n';
  await send(theirs);
  // The rows are there before everything is said; what they add only then, and nothing is added unseen.
  await expect(page.getByRole('alert')).toContainText('Still to be said: kind');
  await expect(page.getByRole('row', { name: /^2 ines-fennelow 2026-11-02 1025\.50 EUR/ })).toBeVisible();
  await page.locator('[name="Always[kind]"]').fill('bonus');
  await page.getByRole('button', { name: 'Take it so' }).click();
  const adds = page.getByRole('region', { name: 'What it adds' });
  await expect(adds.getByRole('row')).toHaveText([/Payee/, /Ines Fennelow\s*1\s*1,025\.50/, /Low Tide Podcast\s*1\s*−12\.00/]);
  await noViolations(page);
  const stale = await page.context().newPage();
  await stale.goto(page.url());
  await stale.locator('[name="Always[kind]"]').fill('bonus');
  await page.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.getByRole('status').first()).toContainText('2 adjustments added.');
  await stale.getByRole('button', { name: 'Take it so' }).click();
  await expect(stale.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible();
  await stale.close();
  await send('payee,on,amount,currency,kind,note\nines-fennelow,2026-11-02,1025.50,EUR,bonus,Best of October\n');
  await expect(page.getByText('Nothing: each of its rows is in the book already.')).toBeVisible();
  await page.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.getByRole('status').first()).toContainText('0 adjustments added, 1 known already.');
});

test('the calendar shows what clears; what is held back clears on no day until it is let go', async () => {
  await bringIn(page, `${orderHeader}\nCAL-1,shop,2026-11-02T10:00:00Z,2026-11-02T10:05:00Z,EUR,,new,no,,,,1,strap-field,1,52.00,0,yes\n`);
  await page.goto('/2026-12/pay/calendar');
  const day = page.getByRole('cell', { name: /^2 .*vendors/ });
  const before = await day.innerText();
  await noViolations(page);
  await page.goto(`${october}/sales/CAL-1`);
  await page.getByRole('region', { name: 'Entries' }).locator('a[data-open]').first().click();
  await page.getByRole('button', { name: 'Hold back' }).click();
  await expect(page.getByText('Say why it is held back')).toBeVisible();
  await page.getByRole('region', { name: 'Entries' }).locator('a[data-open]').first().click();
  await page.getByLabel('Hold it back because').fill('Strap reported missing');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Held back by Maeve Thornfield: Strap reported missing.')).toBeVisible();
  await page.goto('/2026-12/pay/calendar');
  expect(await page.locator('.calendar').innerText()).not.toBe(before);
  await page.goto(`${october}/pay/held`);
  await noViolations(page);
  await reach(page, page.getByRole('button', { name: /Let it go: what .* earned on CAL-1/ }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('0 earnings held back');
  await page.goto('/2026-12/pay/calendar');
  expect(await day.innerText()).toBe(before);
});

test('refund rates stand against the limit; over it a hold is proposed', async () => {
  await page.goto(`${october}/people/refund-rates`);
  await noViolations(page);
  await page.getByLabel('Limit in percent').fill('0.5');
  await page.getByRole('button', { name: 'Set the limit' }).click();
  await told(page);
  const propose = page.getByRole('button', { name: /^Put on hold: / }).first();
  const name = (await propose.getAttribute('aria-label')).match(/^Put on hold: (.*)$/)[1];
  await propose.click();
  await expect(page.getByRole('status').first()).toContainText(`${name} is on hold`);
  await expect(page.getByRole('row', { name: new RegExp(name) }).first()).toContainText('on hold');
});

test('what nobody has to sign off says so', async () => {
  await page.goto(`${october}/pay/sign-off`);
  await expect(page.getByText('Nothing waits.')).toBeVisible();
  await noViolations(page);
});
