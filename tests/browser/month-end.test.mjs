// A whole month end, by keyboard alone, with two bad rows and a forbidden approval on the way.
import { expect, test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { agree, bringIn, cells, choose, october, orderHeader, press, reach, signIn, signIns, signOut, type } from './book.mjs';
import { command } from './command.mjs';
import { demoFolder, shopUrl } from './places.mjs';

test.describe.configure({ mode: 'serial' });

const affiliate = 'Rushy Pond Letter';
let code;
let page;
let run;

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  page.on('dialog', (dialog) => dialog.accept());
});

test.afterAll(async () => page.close());

test('signs in and finds the month end on the desk', async () => {
  const { name, password } = signIns().lead;
  await page.goto('/');
  await type(page, page.getByLabel('Name'), name);
  await type(page, page.getByLabel('Password'), password);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('October 2026, 350 orders, €16,579.10 charged');
  await expect(page.getByRole('group', { name: 'Where €16,579.10 went' })).toBeVisible();
  await expect(page.locator('.steps li', { hasText: 'Gather the pay run as of 31 Oct 2026' })).toContainText('to do');
  await page.goto(`${october}/people?find=${encodeURIComponent(affiliate)}`);
  [, , , , code] = await cells(page, affiliate);
  expect(code).toMatch(/^RUSHY/);
});

test('brings in a file with two bad rows: the good orders go in, the bad ones wait', async () => {
  const row = (id, product, quantity, price, tax) =>
    `${id},shop,2026-09-25T10:00:00Z,2026-09-25T10:05:00Z,EUR,card,new,yes,,,${code},1,${product},${quantity},${price},${tax},yes`;
  await bringIn(page, `${orderHeader}\n${row('BR-1', 'print-oak', 20, '56.00', '209.43')}\n${row('BR-2', 'guide-owls', -1, '22.00', '0')}\n${row('BR-3', 'guide-owls', 1, '12.345', '0')}\n`, { keyboard: true });
  await expect(page.locator('[data-finished]')).toContainText('Rows in quarantine');
  await expect(page.locator('main .facts dd')).toHaveText(['3', '1', '0', '0', '2']);
});

test('corrects one row and sends it again, discards the other', async () => {
  await press(page, page.getByRole('link', { name: 'Look at the rows in quarantine' }));
  const first = page.getByRole('region', { name: 'Rows of BR-2' });
  await expect(page.getByText("Row 3: quantity '-1': expected a whole number of 1 or more")).toBeVisible();
  await expect(page.getByText("Row 4: unit_price '12.345': expected at most 2 decimals in EUR")).toBeVisible();
  await type(page, first.getByLabel('quantity of row 3'), 'one');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('BR-2 still cannot be taken');
  await expect(page.getByLabel('quantity of row 3')).toHaveValue('one');
  await type(page, page.getByLabel('quantity of row 3'), '1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status')).toContainText('BR-2 is in the book now.');
  await press(page, page.getByRole('button', { name: 'Discard' }));
  await expect(page.getByText('Nothing waits.')).toBeVisible();
});

test('reads the waterfall of an order and the trace of an entry', async () => {
  await page.keyboard.press('/');
  await page.keyboard.type('BR-1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Order BR-1, €1,120.00 charged');
  await expect(page.getByText(`Brought by ${affiliate}: coupon code ${code} on the order.`).first()).toBeVisible();
  // 1,120.00 with 209.43 of VAT is 910.57 net; the card takes 1.75 % of 1,120.00 and 0.25.
  const figures = await page.locator('svg.picture text.figure').allTextContents();
  expect(figures.slice(0, 5)).toEqual(['1,120.00', '−209.43', '−19.85', '−104.00', '786.72']);
  // The affiliate's base is 910.57 − 19.85 = 890.72, of which 8 %.
  expect(figures[5]).toBe('−71.26');
  await press(page, page.getByRole('region', { name: 'Entries' }).getByRole('link', { name: affiliate }));
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await expect(trace).toContainText('Friends of the hedge, version from 1 Aug 2025: term 1, on everything, gives 8 % of the share base.');
  await expect(trace).toContainText('Share base: goods €910.57 − processing fee €19.85 = €890.72.');
  await expect(trace).toContainText('8 % of €890.72 is €71.2576.');
  await expect(trace).toContainText('Rounded to €71.26.');
  await expect(trace).toContainText('clears on 25 Oct 2026: a hold of 30 days.');
  await page.keyboard.press('Escape');
  await expect(trace).toContainText('Choose an entry');
});

test('writes an agreement beside its worked example and publishes it', async () => {
  await press(page, page.getByRole('link', { name: 'Terms', exact: true }));
  await press(page, page.getByRole('link', { name: 'Write an agreement' }));
  await type(page, page.getByLabel('Name', { exact: true }), 'Seed advisers');
  await choose(page, page.getByLabel('Earned on'), 'products they share');
  await type(page, page.getByLabel('In force from'), '1.10.2026');
  await type(page, page.getByLabel('An order there is'), 'BR-1');
  await choose(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('Of', { exact: true }), 'everything');
  await type(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('percent of the base', { exact: true }), '2.5');
  const example = page.getByRole('complementary', { name: 'What this draft says and does' });
  await expect(example).toContainText('2.5 % of €910.57 is €22.76425.');
  await expect(example).toContainText('€22.76');
  await type(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('percent of the base', { exact: true }), '250');
  await expect(example).toContainText('No share can be more than 100 %.');
  await press(page, page.getByRole('button', { name: 'Publish' }));
  await expect(page.getByText('No share can be more than 100 %.').first()).toBeVisible();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Seed advisers');
  await choose(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('Of', { exact: true }), 'a collection');
  await type(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('which', { exact: true }), 'seed');
  await type(page, page.getByRole('group', { name: 'Term 1' }).getByLabel('percent of the base', { exact: true }), '2.5');
  await press(page, page.getByRole('button', { name: 'Publish' }));
  await expect(page.getByRole('status').first()).toContainText('Seed advisers is published from 1 Oct 2026.');
  await choose(page, page.getByLabel('Payee', { exact: true }), 'Hester');
  await type(page, page.getByLabel('From', { exact: true }), '1.10.2026');
  await press(page, page.getByRole('button', { name: 'Put on' }));
  await agree(page, 'Hester Vane-Moor', 'House');
  await expect(page.getByRole('status').first()).toContainText('Hester Vane-Moor is on it from 1 Oct 2026.');
  await expect(async () => {
    await page.reload();
    expect(await page.getByText('being worked out again').count()).toBe(0);
  }).toPass({ timeout: 60_000 });
  await page.goto(`${october}/people/hester-vane-moor`);
  await expect(page.getByRole('region', { name: 'Entries' })).toContainText('Seed advisers');
});

test('gathers and locks the run; its lines and control sums add up', async () => {
  await press(page, page.getByRole('link', { name: 'Pay', exact: true }));
  await reach(page, page.getByLabel('Gather a run as of'));
  await expect(page.getByLabel('Gather a run as of')).toHaveValue('31 Oct 2026');
  await press(page, page.getByRole('button', { name: 'Gather' }));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Run as of 31 Oct 2026, gathering');
  await press(page, page.getByRole('button', { name: 'Lock the run' }));
  await expect(page.getByRole('status')).toContainText('The run is locked.');
  run = page.url();
  const rows = await page.getByRole('region', { name: 'Remittances' }).locator('tbody tr').evaluateAll((all) => all.map((row) => [...row.cells].slice(1, 11).map((cell) => {
    const text = cell.innerText.trim();
    return text === '–' ? 0 : Math.round(Number(text.replaceAll(',', '').replace('−', '-')) * 100);
  })));
  expect(rows.length).toBeGreaterThan(30);
  expect(rows.some(([, , reversed]) => reversed < 0)).toBe(true);
  for (const [opening, earned, reversed, adjustments, recouped, withheld, fee, paid, , carried] of rows) {
    expect(reversed).toBeLessThanOrEqual(0);
    expect(opening + earned + adjustments + recouped + withheld + fee).toBe(paid + carried);
  }
});

test('does not offer the approval to who prepared it; somebody else approves', async () => {
  await expect(page.getByText('Somebody other than Maeve Thornfield compares the control sums and approves.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Approve the run' })).toHaveCount(0);
  await signOut(page, { keyboard: true });
  await signIn(page, 'approver');
  await page.goto(run);
  await expect(page.getByRole('button', { name: /Lock|Unlock|Mark|Issue/ })).toHaveCount(0);
  await press(page, page.getByRole('button', { name: 'Approve the run' }));
  await expect(page.getByRole('alert')).toContainText('unusual about this run were not looked at yet.');
  const row = page.getByRole('row').filter({ hasText: affiliate });
  await expect(row).toContainText('no tax form');
  await press(page, row.getByRole('button', { name: /^seen/ }));
  await expect(row.getByRole('button')).toHaveCount(0);
  await press(page, page.getByRole('button', { name: /^All \d+ marks looked at$/ }));
  await press(page, page.getByRole('button', { name: 'Approve the run' }));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('approved');
  await signOut(page);
  await signIn(page, 'lead');
});

test('sets a payment aside: the approval is taken back, and somebody else approves what is left', async () => {
  await page.goto(run);
  await press(page, page.getByText('Set a payment aside'));
  await choose(page, page.getByLabel('Payment to'), 'Hester');
  await press(page, page.getByRole('button', { name: 'Set it aside' }));
  await expect(page.getByText('Say why; the payee may ask.')).toBeVisible();
  await expect(page.getByLabel('Payment to').locator('option:checked')).toContainText('Hester');
  await type(page, page.getByLabel('Because'), 'Asked to be paid next month');
  await press(page, page.getByRole('button', { name: 'Set it aside' }));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('locked');
  await expect(page.getByRole('row').filter({ hasText: 'Hester Vane-Moor' })).toContainText('set aside Asked to be paid next month');
  await signOut(page);
  await signIn(page, 'approver');
  await page.goto(run);
  await press(page, page.getByRole('button', { name: 'Approve the run' }));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('approved');
  await signOut(page);
  await signIn(page, 'lead');
});

test('marks a payment made by hand, with date, reference and a file that shows it', async () => {
  await page.goto(run);
  await press(page, page.getByLabel(`Mark ${affiliate}`), 'Space');
  await press(page, page.getByRole('button', { name: 'Mark paid' }));
  await expect(page.getByText('Give the reference under which the bank or wallet shows the payment.')).toBeVisible();
  await expect(page.getByLabel(`Mark ${affiliate}`)).toBeChecked();
  await type(page, page.getByLabel('Reference, as the bank shows it'), 'TR-0001');
  await page.getByLabel('File that shows it').setInputFiles({ name: 'transfer.txt', mimeType: 'text/plain', buffer: Buffer.from('Transfer TR-0001, 71.26') });
  await press(page, page.getByRole('button', { name: 'Mark paid' }));
  const row = page.getByRole('row').filter({ hasText: affiliate });
  await expect(row).toContainText('3 Nov 2026, TR-0001');
  const evidence = await page.request.get(new URL(await row.getByRole('link', { name: /shown by/ }).getAttribute('href'), run).href);
  expect(await evidence.text()).toBe('Transfer TR-0001, 71.26');
});

test('issues the rest; the bank and the wallet execute, and what the bank refuses is owed again', async () => {
  await page.goto(run);
  await press(page, page.getByRole('button', { name: 'Issue the payments' }));
  await expect(page.getByRole('status').first()).toContainText('payments issued');
  await expect(page.getByRole('button', { name: 'Issue the payments' })).toHaveCount(0);
  await expect(async () => {
    await page.reload();
    expect(await page.getByRole('region', { name: 'Remittances' }).getByText('sent', { exact: true }).count()).toBe(0);
  }).toPass({ timeout: 60_000 });
  await expect(page.getByRole('row').filter({ hasText: 'Orla Dellamere' })).toContainText('refused The account is closed (AC04)');
  await expect(page.getByRole('row').filter({ hasText: 'Quiet Field Podcast' })).toContainText(/3 Nov 2026, ES-261031-\d+/);
  await page.goto(`${october}/people/orla-dellamere`);
  await expect(page.getByRole('region', { name: 'Adjustments' })).toContainText('came back: The account is closed (AC04)');
  await expect(page.getByRole('region', { name: 'Payout details' })).toContainText('a payment came back');
});

/** The amounts, in cents, that a reader of the trade finds in a message of a bank. */
function readByTheTrade(profile, message) {
  const folder = mkdtempSync(join(tmpdir(), 'message-'));
  writeFileSync(join(folder, 'message.xml'), message);
  const reader = (...args) => execFileSync('aqbanking-cli', args, { env: { ...process.env, HOME: folder }, stdio: ['ignore', 'pipe', 'ignore'] }).toString();
  reader('import', '--importer=xml', `--profile=${profile}`, '-f', join(folder, 'message.xml'), '-c', join(folder, 'context'));
  return reader('listtrans', '-c', join(folder, 'context')).trim().split('\n').map((line) => Math.round(Number(line.split('\t')[1]) * 100));
}

test('the payment order is read by a reader of the trade, and its sums agree', async () => {
  await page.goto(run);
  const file = page.getByRole('region', { name: 'Payment files' }).getByRole('row').filter({ hasText: /BANK-EUR/ });
  const [, , payments, sum] = await file.getByRole('cell').allInnerTexts();
  const order = await page.request.get(new URL(await file.getByRole('link').getAttribute('href'), run).href);
  const amounts = readByTheTrade('pain_001_001_03', await order.text());
  expect(amounts.length).toBe(Number(payments));
  expect(amounts.reduce((all, one) => all + one, 0)).toBe(Math.round(Number(sum.replaceAll(',', '')) * 100));
});

test('what is paid by hand is marked together, and the run is closed', async () => {
  await page.goto(run);
  await expect(page.getByRole('button', { name: 'Close the run' })).toHaveCount(0);
  for (const box of await page.getByRole('checkbox').all()) await box.check();
  await page.getByLabel('Reference, as the bank shows it').fill('TR-0002');
  await page.getByRole('button', { name: 'Mark paid' }).click();
  await expect(page.getByRole('status').first()).toContainText('marked paid');
  await press(page, page.getByRole('button', { name: 'Close the run' }));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('closed');
  await page.goto(october);
  await expect(page.locator('.steps')).toContainText('The run is closed');
});

test('a payment comes back days later: the statement says so, and it is owed again though the run is closed', async () => {
  await page.goto(`${shopUrl}/bank`);
  for (let day = 4; day <= 6; day++) {
    await page.getByRole('button', { name: 'A day on' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toContainText(`${day} Nov 2026`);
  }
  await expect(async () => {
    await page.goto(run);
    await expect(page.getByRole('row').filter({ hasText: 'Col Marrowby' })).toContainText('returned The account is blocked (AC06)', { timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await page.goto(`${october}/pay/adjustments`);
  await expect(page.getByRole('row').filter({ hasText: 'Col Marrowby' })).toContainText('payment owed again');
  await page.goto(`${october}/pay/results`);
  await expect(page.getByRole('row').filter({ hasText: 'bank statement' }).first()).toContainText('fetched');
});

test('the statements of the stand-in bank are read by a reader of the trade, and come to their balances', async () => {
  const folder = join(demoFolder, 'bank', 'read');
  const files = readdirSync(folder).filter((name) => name.startsWith('camt053'));
  expect(files.length).toBeGreaterThan(3);
  for (const file of files) {
    const statement = readFileSync(join(folder, file), 'utf8');
    const [opening, closing] = [...statement.matchAll(/<Bal>[\s\S]*?<Amt Ccy="\w+">([\d.]+)<\/Amt>\s*<CdtDbtInd>(\w+)</g)].map(([, amount, sign]) => Math.round(Number(amount) * 100) * (sign === 'DBIT' ? -1 : 1));
    const booked = readByTheTrade('camt_053_001_04', statement);
    expect(booked.length).toBe(statement.split('<Ntry>').length - 1);
    expect(opening + booked.reduce((all, one) => all + one, 0)).toBe(closing);
  }
});

test('the journal of the run balances for a reader of journals, and the book comes to what calc makes of its facts', async () => {
  const journal = await (await page.request.get(`${run}?handler=Journal`)).text();
  const hledger = (...args) => execFileSync('hledger', ['-f', '-', ...args], { input: journal }).toString();
  hledger('check');
  expect(hledger('balance', 'To be paid', '-N', '--flat')).toBe('');
  expect(hledger('balance', 'Came back:col-marrowby')).toContain('75.57 EUR');
  const scenario = join(mkdtempSync(join(tmpdir(), 'facts-')), 'scenario.json');
  writeFileSync(scenario, command('export', 'scenario', '--data', demoFolder));
  const [calculated, held] = [JSON.parse(command('calc', scenario)), JSON.parse(command('result', '--data', demoFolder))];
  expect(held.runs).toEqual(calculated.runs);
  expect(held.entries).toEqual(calculated.entries);
});

test('mails the advices and reads one; the archive holds a document for each payee', async () => {
  await page.goto(run);
  await press(page, page.getByRole('button', { name: 'Mail the advices' }));
  await expect(page.getByRole('status').first()).toContainText(/\d+ advices mailed/);
  await page.goto(`${october}/pay/mail`);
  await press(page, page.getByRole('row').filter({ hasText: 'ines-fennelow' }).getByRole('link', { name: /your statement/ }));
  await expect(page.getByRole('complementary', { name: 'Mail' })).toContainText('Dear Ines Fennelow');
  const archive = await (await page.request.get(`${run}?handler=Advices`)).body();
  expect(archive.subarray(0, 2).toString()).toBe('PK');
  const document = await (await page.request.get(`${run}/statement/ines-fennelow?handler=Pdf`)).body();
  expect(document.subarray(0, 5).toString()).toBe('%PDF-');
});

test('reads the statement, on the page and as a file that adds up', async () => {
  await page.goto(run);
  await press(page, page.getByRole('region', { name: 'Remittances' }).getByRole('link', { name: affiliate, exact: true }));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`Statement for ${affiliate} as of 31 Oct 2026`);
  await expect(page.getByText('paid on 3 Nov 2026, reference TR-0001.')).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'BR-1' })).toContainText('71.26');
  const download = page.waitForEvent('download');
  await press(page, page.getByRole('link', { name: 'CSV' }));
  const stream = await (await download).createReadStream();
  const lines = (await stream.toArray()).join('').trim().split('\r\n').map((line) => line.split(','));
  const cents = (line) => Math.round(Number(line.at(-2)) * 100);
  const earned = lines.filter((line) => ['earning', 'reversal'].includes(line[0])).reduce((sum, line) => sum + cents(line), 0);
  expect(cents(lines.find((line) => line[0] === 'earned in all'))).toBe(earned);
  expect(cents(lines.at(-1))).toBeGreaterThanOrEqual(7126);
});

test('a refund of a paid order makes the next run start negative', async () => {
  await bringIn(page, 'refund_id,order_id,at,kind\nBR-R1,BR-1,2026-11-02T09:00:00Z,cancel\n', { kind: 'refunds' });
  await page.goto(`${october}/sales/BR-1`);
  await expect(page.getByRole('region', { name: 'Entries' })).toContainText('−71.26');
  for (let day = 4; day <= 10; day++) {
    await page.getByRole('button', { name: 'a day on' }).click();
    await expect(page.locator('.clock')).toContainText(`${day} Nov 2026`);
  }
  await page.goto('/2026-11/pay');
  // Each currency has a column of its own, so that amounts below each other can be compared.
  const runs = page.getByRole('region', { name: 'Runs' });
  const columns = await runs.locator('thead th').allInnerTexts();
  for (const [code, sign] of [['EUR', '€'], ['GBP', '£'], ['JPY', '¥'], ['USD', '$']]) {
    const amounts = await runs.locator(`tbody td:nth-child(${columns.indexOf(`Payments in ${code}`) + 1})`).allInnerTexts();
    expect(amounts.filter((amount) => amount !== '').length).toBeGreaterThan(10);
    expect(amounts.filter((amount) => amount !== '' && !amount.trim().startsWith(sign))).toEqual([]);
  }
  await type(page, page.getByLabel('Gather a run as of'), '10.11.2026');
  await press(page, page.getByRole('button', { name: 'Gather' }));
  const row = page.getByRole('row').filter({ hasText: affiliate });
  await expect(row).toContainText('below nothing');
  await page.getByRole('button', { name: 'Lock the run' }).click();
  await expect(row.getByRole('cell').nth(10)).toContainText('−');
});
