// A sale from a payee's link to the shop and back: click, order, waterfall, entry held; cleared, refunded, renewed; a test order in a place of its own. After the month end in the same book.
import { expect, test } from '@playwright/test';
import { Webhook } from 'standardwebhooks';
import { readFileSync, readdirSync } from 'node:fs';
import { noViolations, october, signIn, told } from './book.mjs';
import { demoFolder, demoUrl, shopUrl } from './places.mjs';

test.describe.configure({ mode: 'serial' });

const november = '/2026-11';
let page;
let shop;
let order;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  shop = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(page, 'lead');
});
test.afterAll(async () => {
  await page.close();
  await shop.close();
});

/** Opens an order until it is there; events are taken within seconds. */
async function opened(id) {
  await expect(async () => {
    const answer = await page.goto(`${november}/sales/${id}`);
    expect(answer.status()).toBe(200);
    await expect(page.getByRole('region', { name: 'Entries' }).or(page.getByText('test: left out of everything'))).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
}

/** Opens an order until something of it has been taken back. */
async function reversed(id) {
  await expect(async () => {
    await page.goto(`${november}/sales/${id}`);
    await expect(page.getByRole('region', { name: 'Entries' })).toContainText('−', { timeout: 500 });
  }).toPass({ timeout: 60_000 });
}

async function buy(product, fill = async () => {}) {
  await shop.goto(`${shopUrl}/p/${product}`);
  await shop.getByLabel('Your e-mail').fill('wren@example.org');
  await fill();
  await shop.getByRole('button', { name: 'Buy' }).click();
  return (await shop.locator('main strong').first().innerText()).trim();
}

async function office(button) {
  await shop.goto(`${shopUrl}/office`);
  await shop.getByRole('button', { name: button }).click();
  await expect(shop.getByRole('heading', { level: 1 })).toContainText('Back office');
}

test('the shop’s clock is moved to the day of the book', async () => {
  await page.goto(november);
  const today = (await page.locator('.clock').innerText()).match(/\d+ \w+ \d+/)[0];
  await shop.goto(`${shopUrl}/office`);
  for (let days = 0; days < 60 && !(await shop.getByRole('heading', { level: 1 }).innerText()).includes(today); days++) await office('A day on');
  await expect(shop.getByRole('heading', { level: 1 })).toContainText(today);
});

test('a link leads to the shop; what is bought there is an order brought by its payee, held', async () => {
  await page.goto(`${november}/sales/sources?payee=low-tide-podcast&to=/p/print-fox`);
  const link = await page.locator('code', { hasText: '/go/low-tide-podcast' }).innerText();
  await shop.goto(link, { referer: 'https://tides.example/episode-12' });
  expect(shop.url()).toContain(`${shopUrl}/p/print-fox?visitor=`);
  await shop.getByLabel('Your e-mail').fill('fox@example.org');
  await shop.getByRole('button', { name: 'Buy' }).click();
  order = (await shop.locator('main strong').first().innerText()).trim();
  await opened(order);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('€38.00 charged');
  await expect(page.getByRole('region', { name: 'Entries' })).toContainText('Low Tide Podcast');
  await expect(page.getByText(/click/).first()).toBeVisible();
  await page.goto(`${november}/sales/clicks`);
  const row = page.getByRole('row', { name: /Low Tide Podcast/ });
  await expect(row).toContainText('tides.example/episode-12');
  await expect(row).toContainText('€38.00');
  await noViolations(page);
});

test('a link leads nowhere but to the shop, and machines are not counted', async ({ request }) => {
  for (const to of ['//elsewhere.example', 'https://elsewhere.example', '/\\elsewhere.example', '/@elsewhere.example']) {
    const answer = await request.get(`${demoUrl}/go/low-tide-podcast?to=${encodeURIComponent(to)}`, { maxRedirects: 0, failOnStatusCode: false });
    expect(answer.status()).toBe(404);
  }
  const crawler = await request.get(`${demoUrl}/go/low-tide-podcast?to=/p/print-heron`, { maxRedirects: 0, headers: { 'User-Agent': 'GreatCrawlerBot/1.0' } });
  expect(crawler.status()).toBe(302);
  await page.goto(`${november}/sales/clicks`);
  await expect(page.getByText('/p/print-heron')).toHaveCount(0);
});

test('the follow-on offer that is accepted is an order too; the one after a refusal is another', async () => {
  const first = await buy('guide-hedgerow', () => shop.getByLabel('Coupon code').fill('LOWTIDEPP16'));
  await expect(shop.getByRole('heading', { name: /Four seasons, the set/ })).toBeVisible();
  await shop.getByRole('button', { name: 'No, thank you' }).click();
  await shop.getByRole('button', { name: 'Yes, add it' }).click();
  await expect(shop.getByRole('heading', { name: /Members’ club/ })).toBeVisible();
  await opened(first);
  await opened(`SH-${Number(first.slice(3)) + 1}`);
  await expect(page.getByText('Dawn chorus, an hour').first()).toBeVisible();
});

test('a trial and its renewals are paid at their own prices', async () => {
  const trial = await buy('club-year', () => shop.getByLabel(/begin with a trial/).check());
  await opened(trial);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('€1.00 charged');
  await office(`Renew ${trial} now`);
  const renewal = `SH-${Number(trial.slice(3)) + 1}`;
  await opened(renewal);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('€48.00 charged');
  await expect(page.getByText('Off plan')).toHaveCount(0);
});

test('a refund at the press of a button is a reversal', async () => {
  await office(`Refund ${order}`);
  await reversed(order);
  await expect(page.getByText('SR-1', { exact: true })).toBeVisible();
});

test('a test order is in a place of its own and in no figure', async () => {
  await page.goto(november);
  const before = await page.getByRole('heading', { level: 1 }).innerText();
  const id = await buy('pin-wren', () => shop.getByLabel(/by test card/).check());
  await opened(id);
  await page.goto(`${november}/sales/tests`);
  await expect(page.getByRole('row', { name: new RegExp(id) })).toBeVisible();
  await page.goto(november);
  expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe(before);
});

test('events signed by the public library are taken; altered, old and repeated ones change nothing', async ({ request }) => {
  const secret = readFileSync(`${demoFolder}/keys/source-stand-in-shop.secret`, 'utf8').trim();
  const webhook = new Webhook(secret);
  const post = (id, at, body, signed = body) => request.post(`${demoUrl}/hooks/sales`, {
    data: body,
    headers: { 'content-type': 'application/json', 'webhook-id': id, 'webhook-timestamp': `${Math.floor(at / 1000)}`, 'webhook-signature': webhook.sign(id, new Date(at), signed) },
    failOnStatusCode: false,
  });
  const event = (order_id, unit_price = '38.00') => JSON.stringify({ type: 'order', data: {
    order_id, channel: 'shop', placed_at: '2026-11-03T09:00:00Z', paid_at: '2026-11-03T09:01:00Z', currency: 'EUR', customer: 'new', prices_include_tax: false, coupon_codes: ['LOWTIDEPP16'],
    lines: [{ line_id: '1', product: 'print-fox', quantity: 1, unit_price, line_tax: '0', requires_shipping: true }],
  } });
  const now = Date.now();
  const refund = JSON.stringify({ type: 'refund', data: { refund_id: 'EV-R1', order_id: 'EV-1', at: '2026-11-04T09:00:00Z', kind: 'cancel' } });
  expect((await post('e-0', now, refund)).status()).toBe(200);
  await expect(async () => {
    await page.goto(`${november}/sales/sources`);
    await expect(page.getByRole('region', { name: 'Events not taken' })).toContainText('The order EV-1 has not come yet.', { timeout: 500 });
  }).toPass({ timeout: 60_000 });
  expect((await post('e-1', now, event('EV-1'))).status()).toBe(200);
  expect((await post('e-1', now, event('EV-2'))).status()).toBe(200);
  expect((await post('e-2', now, event('EV-3', '3.80'), event('EV-3'))).status()).toBe(401);
  expect((await post('e-3', now - 360_000, event('EV-4'))).status()).toBe(401);
  expect((await request.post(`${demoUrl}/hooks/sales`, { data: event('EV-5'), failOnStatusCode: false })).status()).toBe(401);
  const unreadable = await post('e-4', now, '{"type":"order","data":{"order_id":"EV-6","price":12.5}}');
  expect(unreadable.status()).toBe(422);
  expect((await unreadable.json()).detail).toBe('data.price: there is no such field.');
  await reversed('EV-1');
  for (const id of ['EV-2', 'EV-3', 'EV-4', 'EV-5', 'EV-6']) expect((await page.goto(`${november}/sales/${id}`)).status()).toBeGreaterThanOrEqual(400);
});

test('the processor settles the week into a report that adds up', async () => {
  await office('Processor: settle the week');
  const name = (await shop.getByText(/Settlement reports/).innerText()).match(/settlement-\S+\.csv/)[0];
  const lines = readFileSync(`${demoFolder}/shop/${name}`, 'utf8').trim().split('\r\n').slice(1).map((line) => line.split(','));
  expect(lines.length).toBeGreaterThan(4);
  expect(lines.reduce((sum, line) => sum + Math.round(Number(line[9]) * 100), 0)).toBe(0);
});

test('the report is fetched by itself, and its lines are held against the orders they name', async () => {
  await expect(async () => {
    await page.goto('/2026-11/pay/bench/processors?shows=all');
    await expect(page.getByRole('link', { name: /^SH-3/ }).first()).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await noViolations(page);
});

test('a vendor’s invoice is fetched by itself and held against what was posted for its orders', async () => {
  await buy('box-owl');
  await office('Partners: report the month so far');
  const row = page.locator('table.bench tr').filter({ hasText: 'earned on SH-3' }).first();
  await expect(async () => {
    await page.goto('/2026-11/pay/bench/partners?shows=all');
    await expect(row).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await row.getByRole('link').click();
  await expect(page.locator('#pane')).toContainText('€49.20');
});

test('a shop is set up with a secret that is shown once', async () => {
  await page.goto(`${october}/sales/sources`);
  await page.getByLabel('Another shop').fill('Market stall');
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.locator('code', { hasText: 'whsec_' })).toBeVisible();
  await noViolations(page);
  await page.goto(`${october}/sales/sources`);
  await expect(page.locator('code', { hasText: 'whsec_' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Close Market stall' }).click();
  await told(page);
});

test('who accepts an invitation brings orders by their new code, held longer than those of others', async ({ browser }) => {
  await page.goto(`${november}/people/invitations`);
  await page.getByText('Invite people').click();
  await page.getByLabel('To', { exact: true }).selectOption('Friends of the hedge');
  await page.getByLabel('Whom').fill('Bryony Tarn <bryony@tarn.example>');
  await page.getByRole('button', { name: 'Invite them' }).click();
  await told(page);
  const outbox = `${demoFolder}/outbox`;
  const mail = readdirSync(outbox).filter((f) => f.startsWith('invitation-')).map((f) => readFileSync(`${outbox}/${f}`, 'utf8').replaceAll('=\r\n', '').replaceAll('=\n', '').replaceAll('=3D', '=')).find((text) => text.includes('bryony@tarn.example'));
  const link = new URL(mail.match(/https?:\/\/\S+token=[0-9a-f]{64}/)[0]);
  const somebody = await (await browser.newContext({ locale: 'en-GB', javaScriptEnabled: false })).newPage();
  await somebody.goto(link.pathname + link.search);
  await somebody.getByLabel('Country you are paid in').selectOption('Ireland');
  await somebody.getByLabel('What do you make?').fill('Walks.');
  await somebody.getByLabel('How many people see it in a month?').selectOption('under 1 000');
  const accepts = somebody.getByLabel('I have read it and accept it');
  if (await accepts.count()) await accepts.check();
  await somebody.getByRole('button', { name: 'Take part' }).click();
  await somebody.context().close();
  await page.goto(`${november}/people/bryony-tarn`);
  const code = (await page.locator('dd.mono').first().innerText()).trim();
  await opened(await buy('print-fox', () => shop.getByLabel('Coupon code').fill(code)));
  const row = page.getByRole('region', { name: 'Entries' }).getByRole('row', { name: /Bryony Tarn/ });
  const [posted, clears] = (await row.locator('td.fit').allInnerTexts()).map((d) => Date.parse(`${d} UTC`));
  expect((clears - posted) / 86_400_000).toBe(60);
});
