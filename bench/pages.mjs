// Asks for every list page a number of times and prints how long the server says it took: the median and the slowest, in milliseconds.
import { readFileSync } from 'node:fs';

const [base, signIns] = process.argv.slice(2);
const [, name, password] = readFileSync(signIns, 'utf8').trim().split('\n')[0].trim().split(/\s+/);
const rounds = 15;
const cookies = new Map();

async function ask(path, options = {}) {
  const answer = await fetch(base + path, { ...options, redirect: 'manual', headers: { cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '), ...options.headers } });
  for (const cookie of answer.headers.getSetCookie()) {
    const [key, value] = cookie.split(';')[0].split(/=(.*)/s);
    cookies.set(key, value);
  }
  return answer;
}

for (let tries = 0; ; tries++) {
  try {
    await ask('/sign-in');
    break;
  } catch (error) {
    if (tries > 100) throw error;
    await new Promise((done) => setTimeout(done, 200));
  }
}
const token = /name="__RequestVerificationToken" type="hidden" value="([^"]+)"/.exec(await (await ask('/sign-in')).text())[1];
await ask('/sign-in', { method: 'POST', body: new URLSearchParams({ UserName: name, Password: password, __RequestVerificationToken: token }) });

const month = '/2026-09';
const sales = await (await ask(`${month}/sales`)).text();
const order = /href="(\/2026-09\/sales\/B-[^"]+)"/.exec(sales)[1];
const later = /rel="next" href="([^"]+)"/.exec(sales)[1].replaceAll('&amp;', '&');
const pages = {
  desk: month, sales: `${month}/sales`, 'sales, a later page': later, 'sales with an exception': `${month}/sales?kind=exceptions`, 'sales by one payee': `${month}/sales?by=quiet-field-podcast`,
  order, terms: `${month}/terms`, products: `${month}/terms/products`, people: `${month}/people`, payee: `${month}/people/ines-fennelow`, pay: `${month}/pay`,
  entries: `${month}/books`, 'entries of vendors': `${month}/books?role=vendor`,
};
console.log('list pages, ms on the server        median  slowest');
for (const [page, path] of Object.entries(pages)) {
  const times = [];
  for (let round = 0; round <= rounds; round++) {
    const answer = await ask(path);
    await answer.arrayBuffer();
    if (answer.status !== 200) throw new Error(`${path}: ${answer.status}`);
    // The first one compiles the page and its queries.
    if (round > 0) times.push(Number(/dur=([\d.]+)/.exec(answer.headers.get('server-timing'))[1]));
  }
  times.sort((a, b) => a - b);
  console.log(page.padEnd(34), times[rounds >> 1].toFixed(1).padStart(8), times.at(-1).toFixed(1).padStart(8));
}
