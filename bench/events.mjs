// Posts signed events of orders from many connections at once and prints how many a second are acknowledged, and how long each takes.
//   node bench/events.mjs http://127.0.0.1:5080 SECRET PRODUCT [EVENTS] [CONNECTIONS]
import { createHmac } from 'node:crypto';
import { Agent, request } from 'node:http';

const [base, secret, product, events = '6000', connections = '32'] = process.argv.slice(2);
const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
const agent = new Agent({ keepAlive: true, maxSockets: Number(connections) });
const run = Date.now();

function post(n) {
  const [id, at, now] = [`bench-${run}-${n}`, new Date().toISOString(), Math.floor(Date.now() / 1000)];
  const body = JSON.stringify({ type: 'order', data: { order_id: id, channel: 'shop', placed_at: at, paid_at: at, currency: 'EUR', customer: 'new', processing_fee: '0.40',
    lines: [{ line_id: '1', product, quantity: 1, unit_price: '19.90', line_tax: '3.00' }] } });
  const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body), 'webhook-id': id, 'webhook-timestamp': now,
    'webhook-signature': `v1,${createHmac('sha256', key).update(`${id}.${now}.${body}`).digest('base64')}` };
  return new Promise((done, failed) => {
    const sent = request(`${base}/hooks/sales`, { method: 'POST', agent, headers }, (answer) => {
      answer.resume();
      answer.on('end', () => (answer.statusCode === 200 ? done() : failed(new Error(`${answer.statusCode}`))));
    });
    sent.on('error', failed);
    sent.end(body);
  });
}

const took = [];
let next = 0;
const began = performance.now();
await Promise.all(Array.from({ length: Number(connections) }, async () => {
  while (next < Number(events)) {
    const n = next++;
    const start = performance.now();
    await post(n);
    took.push(performance.now() - start);
  }
}));
const seconds = (performance.now() - began) / 1000;
agent.destroy();
took.sort((a, b) => a - b);
console.log(`${took.length} events in ${seconds.toFixed(1)} s: ${Math.round(took.length / seconds)} a second; acknowledged after ${took[took.length >> 1].toFixed(0)} ms at the median, ${took[Math.floor(took.length * 0.99)].toFixed(0)} ms for 99 of 100.`);
