// Events from four connections while the application is killed and started again twice: each that was acknowledged is there once, and the book
// comes to what calc makes of the same facts, and agrees with itself. EVENTS=20000 posts that many, KILLS=100 kills that often; the suite is content with fewer.
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { Webhook } from 'standardwebhooks';
import { command } from './command.mjs';
import { artifacts, killFolder, killUrl } from './places.mjs';

const count = Number(process.env.EVENTS ?? 1500);
const kills = Number(process.env.KILLS ?? 2);
const connections = 4;

/** The same every time: what a seed gives, one number after another. */
function dice(seed) {
  let state = seed;
  return (sides) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * sides);
  };
}

const rules = {
  book: { currency: 'EUR', timeZone: 'Europe/Dublin', clickModel: 'last' },
  processors: [{ id: 'card', rate: '0.0175', fixed: 25, currency: 'EUR' }],
  products: ['a', 'b', 'c', 'd'].map((id) => ({ id, returnDays: 14 })),
  payees: [
    ...[1, 2, 3, 4, 5].map((n) => ({ id: `aff${n}`, role: 'affiliate', payoutCurrency: 'EUR', activeFrom: '2026-01-01', codes: [`CODE${n}`], agreements: [{ id: 'friends', from: '2026-01-01' }] })),
    ...['x', 'y'].map((id) => ({ id, role: 'collaborator', payoutCurrency: 'EUR', activeFrom: '2026-01-01', agreements: [{ id: 'art', from: '2026-01-01' }] })),
  ],
  agreements: [
    { id: 'friends', basis: 'referral', currency: 'EUR', versions: [{ from: '2026-01-01', holdDays: 30, terms: [{ scope: { all: true }, cases: [
      { when: { salesAtLeast: 100000, window: 'month' }, rate: { percent: '0.12' } }, { rate: { percent: '0.08' } }] }] }] },
    { id: 'art', basis: 'contribution', currency: 'EUR', versions: [{ from: '2026-01-01', deductProcessingFee: true, terms: [{ scope: { all: true }, cases: [{ rate: { percent: '0.15' } }] }] }] },
  ],
};

/** Orders and refunds as facts of a scenario and as events, in an order that no shop would keep. */
function story() {
  const roll = dice(20261103);
  const [orders, refunds, events] = [[], [], []];
  const major = (cents) => (cents / 100).toFixed(2);
  for (let n = 0; events.length < count; n++) {
    const id = `K-${n}`;
    const at = new Date(Date.UTC(2026, 9, 1 + roll(28), 8 + roll(10), roll(60), roll(60))).toISOString().replace('.000', '');
    const lines = Array.from({ length: 1 + roll(3) }, (_, i) => ({ id: `${i + 1}`, product: 'abcd'[roll(4)], quantity: 1 + roll(2), unitPrice: 500 + roll(6000), tax: 0 }));
    const codes = roll(2) ? [`CODE${1 + roll(5)}`] : [];
    orders.push({ id, channel: 'shop', currency: 'EUR', placedAt: at, paidAt: at, processor: 'card', customer: 'new', codes, lines });
    const paysApart = roll(2) === 1;
    events.push({ type: 'order', data: { order_id: id, channel: 'shop', placed_at: at, paid_at: paysApart ? null : at, currency: 'EUR', processor: 'card', coupon_codes: codes,
      lines: lines.map((l) => ({ line_id: l.id, product: l.product, quantity: l.quantity, unit_price: major(l.unitPrice) })) } });
    if (paysApart) events.push({ type: 'payment', data: { order_id: id, paid_at: at } });
    if (roll(12) === 0) {
      refunds.push({ id: `R-${n}`, order: id, at: '2026-10-30T12:00:00Z', kind: 'cancel' });
      events.push({ type: 'refund', data: { refund_id: `R-${n}`, order_id: id, at: '2026-10-30T12:00:00Z', kind: 'cancel' } });
    }
  }
  for (let i = events.length - 1; i > 0; i--) {
    const j = Math.max(0, i - roll(40));
    [events[i], events[j]] = [events[j], events[i]];
  }
  return { scenario: { ...rules, orders, refunds }, events };
}

let server;
async function start() {
  server = spawn('dotnet', ['EvenSplit.Web.dll', '--data', `${killFolder}/book`, '--urls', killUrl], { cwd: `${artifacts}/web`, stdio: 'ignore' });
  for (let tries = 0; tries < 150; tries++) {
    if (await fetch(`${killUrl}/sign-in`).then((answer) => answer.ok, () => false)) return;
    await new Promise((done) => setTimeout(done, 200));
  }
  throw new Error('The application did not start.');
}

async function kill() {
  const gone = new Promise((done) => server.once('exit', done));
  server.kill('SIGKILL');
  await gone;
}

/** Exits with 1, and throws, where something differs. */
const holds = () => command('check', '--data', `${killFolder}/book`);


/** What is compared: figures of orders, and what each thing earned in all; a correction after a late event may stand in several entries. */
function comesTo(result) {
  const sums = {};
  for (const e of result.entries) {
    const key = [e.order, e.line, e.payee, e.agreement, e.part, e.refund, e.currency].join('/');
    sums[key] = (sums[key] ?? 0) + e.amount;
    if (sums[key] === 0) delete sums[key];
  }
  return { orders: result.orders.toSorted((a, b) => (a.id < b.id ? -1 : 1)), sums: Object.fromEntries(Object.entries(sums).toSorted()) };
}

test.afterAll(() => server?.kill('SIGKILL'));

test('what was acknowledged is there once, whatever was killed', async () => {
  test.setTimeout(count > 5000 || kills > 2 ? 5_400_000 : 240_000);
  rmSync(killFolder, { recursive: true, force: true });
  mkdirSync(killFolder, { recursive: true });
  const { scenario, events } = story();
  writeFileSync(`${killFolder}/rules.json`, JSON.stringify({ ...rules, orders: [] }));
  writeFileSync(`${killFolder}/all.json`, JSON.stringify(scenario));
  command('load', `${killFolder}/rules.json`, '--data', `${killFolder}/book`);
  const webhook = new Webhook(command('add-source', 'The shop', '--data', `${killFolder}/book`).trim());
  await start();

  // Somewhere within each of as many equal parts.
  const roll = dice(7);
  const part = events.length / (kills + 1);
  const killAt = Array.from({ length: kills }, (_, i) => Math.floor((i + 1) * part + (kills > 2 ? roll(Math.floor(part)) : 0)) - (kills > 2 ? Math.floor(part / 2) : 0));
  let next = 0;
  let acknowledged = 0;
  let restarting = Promise.resolve();
  const post = async (n) => {
    const [id, now, body] = [`kill-${n}`, new Date(), JSON.stringify(events[n])];
    const headers = { 'content-type': 'application/json', 'webhook-id': id, 'webhook-timestamp': `${Math.floor(now / 1000)}`, 'webhook-signature': webhook.sign(id, now, body) };
    const answer = await fetch(`${killUrl}/hooks/sales`, { method: 'POST', headers, body }).catch(() => null);
    if (answer?.status === 200) return true;
    if (answer !== null && answer.status < 500) throw new Error(`${answer.status}: ${await answer.text()}`);
    return false;
  };
  const began = Date.now();
  await Promise.all(Array.from({ length: connections }, async () => {
    while (next < events.length) {
      const n = next++;
      while (!(await post(n))) {
        await restarting;
        await new Promise((done) => setTimeout(done, 50));
      }
      acknowledged++;
      // What a kill leaves behind holds by itself, before the application looks at it again.
      if (killAt.includes(acknowledged)) restarting = kill().then(holds).then(start);
    }
  }));
  await restarting;
  expect(acknowledged).toBe(events.length);
  const posted = Date.now() - began;

  const expected = comesTo(JSON.parse(command('calc', `${killFolder}/all.json`)));
  await expect(async () => {
    expect(comesTo(JSON.parse(command('result', '--data', `${killFolder}/book`)))).toEqual(expected);
  }).toPass({ timeout: count > 5000 ? 600_000 : 90_000, intervals: [2000] });
  await kill();
  holds();
  console.log(`${events.length} events acknowledged in ${(posted / 1000).toFixed(1)} s with ${kills} kills; all in the book ${((Date.now() - began) / 1000).toFixed(1)} s after the first.`);
});
