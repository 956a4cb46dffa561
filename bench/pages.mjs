// Asks for every address the application answers, with the filters its pages have, and prints how long the server says it took: the median and the one in
// twenty that is slower. Addresses come from the routes: one that is not known here ends it with an error, so that a new page cannot be forgotten.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const [base, signIns, application, data] = process.argv.slice(2);
const [, name, password] = readFileSync(signIns, 'utf8').trim().split('\n')[0].trim().split(/\s+/);
const rounds = Number(process.env.ROUNDS ?? 21);
const wanted = { median: 100, slow: 200 };
const cookies = new Map();

async function ask(path, options = {}) {
  const answer = await fetch(base + path, { ...options, redirect: 'manual', headers: { cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '), ...options.headers } });
  for (const cookie of answer.headers.getSetCookie()) {
    const [key, value] = cookie.split(';')[0].split(/=(.*)/s);
    cookies.set(key, value);
  }
  return answer;
}

const token = async (path) => /name="__RequestVerificationToken" type="hidden" value="([^"]+)"/.exec(await (await ask(path)).text())[1];
await ask('/sign-in', { method: 'POST', body: new URLSearchParams({ UserName: name, Password: password, __RequestVerificationToken: await token('/sign-in') }) });

const month = '2026-11';
const first = async (path, pattern) => pattern.exec((await (await ask(path)).text()).replaceAll('&amp;', '&'))?.[1];
const order = await first(`/${month}/sales`, new RegExp(`href="/${month}/sales/(B-[^"]+)"`));
const found = {
  run: await first(`/${month}/pay`, new RegExp(`href="/${month}/pay/(\\d+)"`)),
  import: await first(`/${month}/sales/import`, new RegExp(`href="/${month}/sales/imports/(\\d+)"`)),
  path: await first(`/${month}/terms/paths`, new RegExp(`href="/${month}/terms/paths/([^"]+)"`)),
  bulk: await first(`/${month}/terms/bulk`, new RegExp(`href="/${month}/terms/bulk/(\\d+)"`)),
  entry: await first(`/${month}/sales/${order}`, /[?&]entry=([^"&]+)/),
  salesAfter: await first(`/${month}/sales`, /[?&]after=([^"&]+)/),
  booksAfter: await first(`/${month}/books`, /[?&]after=([^"&]+)/),
  payeeAfter: await first(`/${month}/people/ines-fennelow`, /[?&]after=([^"&]+)/),
};

// What stands for the parts of an address; null where the book measured has nothing of the kind.
const parts = {
  '/sales/{orderId}': { orderId: order }, '/people/{id}': { id: 'ines-fennelow' }, '/terms/products/{id}': { id: 'guide-hedgerow' }, '/terms/paths/{id}': { id: found.path },
  '/terms/{id}': { id: 'friends-of-the-hedge' }, '/pay/{id:int}': { id: found.run }, '/sales/imports/{id:int}': { id: found.import }, '/terms/bulk/{id:int}': { id: found.bulk }, '/terms/rehearsals/{id:int}': { id: null },
};
// What a query may say, by parameter; by page and parameter where it differs. Empty: it only fills a form.
const query = {
  '/sales after': [found.salesAfter], '/books after': [found.booksAfter], '/people/{id} after': [found.payeeAfter], '/books kind': ['earnings', 'reversals'], '/books role': ['affiliate', 'vendor'],
  '/sales kind': ['paid', 'unpaid', 'exceptions', 'refunded', 'test', 'contested', 'selfreferral'], '/sales by': ['hedge-friend-0007', 'nobody'], '/sales channel': ['open-field-market', 'shop'],
  '/sales find': ['0912345', 'FRIEND0042', 'no such text'], '/find find': ['B-0912345', 'hedge', 'no such text'], '/people find': ['fennel'], '/people role': ['vendor'], '/pay/owed who': ['left', 'below'],
  '/pay/ahead asof': ['2026-12-31', '2027-01-31'], '/pay/ahead schedule': ['monthly'], '/terms/coverage basis': ['Referral'], '/terms/coverage collection': ['prints'], '/terms/coverage part': ['2'],
  '/terms/coverage columns': ['2'], '/terms/products collection': ['prints'], '/terms/products/{id} brought': ['yes'], '/terms/rewards since': ['2026-11-01'], '/terms/rewards until': ['2026-11-30'],
  '/people/{id} entry': [found.entry], '/sales/{orderId} entry': [found.entry], '/sales/clicks payee': ['hedge-friend-0007'], '/sales/sources payee': [], '/sales/sources to': [], '/sales/assign orders': [order],
  '/sales/by-hand kind': ['Refund'], '/sales/import kind': ['Refunds'], '/sales/import source': [], '/people/new id': [], '/terms/new copy': ['friends-of-the-hedge'], '/terms/new id': [], '/terms/new saved': [],
  '/terms/{id}/next copy': [], '/terms/{id}/next saved': [], '/terms/rehearsals/{id:int} order': [], '/books/record by': ['Lena Marrow'], '/books/record thing': ['run:1'], '/books/record from': ['2026-11-01'], '/books/record to': ['2026-11-30'], '/books/record before': ['1000'], '/new-password user': [], '/new-password token': [], '/new-password period': [], '/error code': [], '/ period': [], '/clock period': [], '/refused period': [], '/sign-out period': [], '/error period': [],
};

const pages = [];
for (const line of execFileSync('dotnet', [application, '--data', data, '--addresses'], { encoding: 'utf8' }).trim().split('\n').filter((l) => l.startsWith('/'))) {
  const [pattern, ...says] = line.split(' ');
  const short = pattern.replace('/{period:period}', '') || '/desk';
  const known = Object.entries(parts).filter(([p]) => short.startsWith(p)).sort((a, b) => b[0].length - a[0].length)[0]?.[1] ?? {};
  let address = pattern.replace('{period:period}', month).replace('{payee}', 'ines-fennelow');
  for (const [part, value] of Object.entries(known)) address = value === null || value === undefined ? '' : address.replace(new RegExp(`\\{${part}(:int)?\\}`), value);
  if (address.includes('{')) throw new Error(`${pattern}: say in bench/pages.mjs what stands for its parts.`);
  if (address === '') { console.log(`${short}: nothing of the kind in this book`); continue; }
  // Files are written as they are sent; how long they take is their length.
  const handler = says.find((s) => s.startsWith('handler='));
  if (handler) continue;
  pages.push([short, address]);
  for (const parameter of says) {
    const values = query[`${short} ${parameter}`];
    if (!values) throw new Error(`${short}?${parameter}=: say in bench/pages.mjs what it may be.`);
    for (const value of values.filter((v) => v !== undefined)) pages.push([`${short}?${parameter}=${decodeURIComponent(value)}`, `${address}?${parameter}=${encodeURIComponent(decodeURIComponent(value))}`]);
  }
}

console.log(`${pages.length} pages and filters, ms on the server`.padEnd(60), 'median'.padStart(8), 'p95'.padStart(8), 'first'.padStart(8));
let missed = 0;
for (const [page, path] of pages) {
  const times = [];
  for (let round = 0; round <= rounds; round++) {
    const answer = await ask(path);
    await answer.arrayBuffer();
    if (![200, 302, 400, 403, 404].includes(answer.status)) throw new Error(`${path}: ${answer.status}`);
    times.push(Number(/dur=([\d.]+)/.exec(answer.headers.get('server-timing'))?.[1] ?? NaN));
    // What takes seconds is known after a few.
    if (round >= 4 && times[round] > 1000) break;
  }
  const start = times.shift();
  times.sort((a, b) => a - b);
  const [median, slow] = [times[times.length >> 1], times[Math.min(times.length - 1, Math.floor(times.length * 0.95))]];
  const isMissed = median > wanted.median || slow > wanted.slow;
  if (isMissed) missed++;
  console.log(page.padEnd(60), median.toFixed(1).padStart(8), slow.toFixed(1).padStart(8), start.toFixed(0).padStart(8), isMissed ? ' above what is wanted' : '');
}
console.log(`${pages.length - missed} of ${pages.length} within ${wanted.median} ms at the median and ${wanted.slow} ms for 95 of 100`);
