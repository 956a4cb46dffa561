// Asks for every address the application answers, with the filters its pages have, and prints how long the server says it took: the median and the one in
// twenty that is slower. The payee's own pages are asked for as the lead sees them.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { month, pagesOf, payee } from './addresses.mjs';

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

const text = async (path) => (await (await ask(path)).text()).replaceAll('&amp;', '&');
const first = async (path, pattern) => pattern.exec(await text(path))?.[1];
await ask(`/${month}/people/${payee}?handler=See`, { method: 'POST', body: new URLSearchParams({ __RequestVerificationToken: await token(`/${month}/people/${payee}`) }) });
if (!(await text('/me/ledger')).includes('/me/ledger/')) throw new Error(`What ${payee} sees of their own pages could not be opened.`);
const order = await first(`/${month}/sales`, new RegExp(`href="/${month}/sales/(B-[^"]+)"`));
const found = {
  order,
  run: await first(`/${month}/pay`, new RegExp(`href="/${month}/pay/(\\d+)"`)),
  import: await first(`/${month}/sales/import`, new RegExp(`href="/${month}/sales/imports/(\\d+)"`)),
  path: await first(`/${month}/terms/paths`, new RegExp(`href="/${month}/terms/paths/([^"]+)"`)),
  bulk: await first(`/${month}/terms/bulk`, new RegExp(`href="/${month}/terms/bulk/(\\d+)"`)),
  entry: await first(`/${month}/sales/${order}`, /[?&]entry=(\d+)/),
  salesAfter: await first(`/${month}/sales`, /[?&]after=([^"&]+)/),
  booksAfter: await first(`/${month}/books`, /[?&]after=([^"&]+)/),
  payeeAfter: await first(`/${month}/people/ines-fennelow`, /[?&]after=([^"&]+)/),
  agreement: await first('/me/agreements', /href="\/me\/agreements\/([^"?]+)"/),
  ownEntry: await first('/me/ledger', /href="\/me\/ledger\/(\d+)"/),
  ownAfter: await first('/me/ledger', /[?&]after=([^"&]+)/),
};
const routes = execFileSync('dotnet', [application, '--data', data, '--addresses'], { encoding: 'utf8' }).trim().split('\n').filter((l) => l.startsWith('/'));
const all = pagesOf(routes, found);
for (const [page, address] of all) {
  if (!address) console.log(`${page}: nothing of the kind in this book`);
}
const pages = all.filter(([, address]) => address);

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
