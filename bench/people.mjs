// Fifty people look at the main pages at once for half a minute, and every tenth changes something, while a large file comes in: how long they wait, and whether
// anything fails. node bench/people.mjs URL SIGN-INS ORDERS.csv
import { readFileSync, openAsBlob } from 'node:fs';

const [base, signIns, orders] = process.argv.slice(2);
const [people, seconds] = [50, 30];
const [, name, password] = readFileSync(signIns, 'utf8').trim().split('\n').map((line) => line.trim().split(/\s+/)).find(([role]) => role === 'lead');
const pages = ['', '/sales', '/terms', '/people', '/pay', '/pay/calendar', '/pay/owed', '/sales/exceptions', '/sales/clicks', '/books', '/books/record', '/terms/products'];

/** A person with cookies of their own. */
class Person {
  cookies = new Map();
  async ask(path, options = {}) {
    const answer = await fetch(base + path, { redirect: 'manual', ...options, headers: { ...options.headers, cookie: [...this.cookies].map(([k, v]) => `${k}=${v}`).join('; ') } });
    for (const cookie of answer.headers.getSetCookie()) {
      const [key, ...value] = cookie.split(';')[0].split('=');
      this.cookies.set(key, value.join('='));
    }
    return answer;
  }
  async token(path) {
    return /name="__RequestVerificationToken" type="hidden" value="([^"]+)"/.exec(await (await this.ask(path)).text())[1];
  }
  async post(page, path, fields) {
    const body = fields instanceof FormData ? fields : new URLSearchParams(fields);
    body.append('__RequestVerificationToken', await this.token(page));
    return this.ask(path, { method: 'POST', body });
  }
}

const lead = new Person();
if ((await lead.post('/sign-in', '/sign-in', { UserName: name, Password: password })).status !== 302) throw new Error('The sign-in failed.');
const month = /\/\d{4}-\d{2}/.exec((await lead.ask('/')).headers.get('location'))[0];
const file = new FormData();
file.append('File', await openAsBlob(orders), 'orders.csv');
file.append('Kind', 'Orders');
const upload = await lead.post(`${month}/sales/import`, `${month}/sales/import`, file);
if (upload.status !== 302) throw new Error(`The file was not taken: ${upload.status}`);

const [waits, changes] = [[], []];
let failures = 0;
const end = Date.now() + seconds * 1000;
await Promise.all(Array.from({ length: people }, async (_, n) => {
  const person = new Person();
  for (const [key, value] of lead.cookies) person.cookies.set(key, value);
  for (let i = n; Date.now() < end; i++) {
    const began = performance.now();
    if (n % 10 === 0 && i % 5 === 0) {
      const answer = await person.post(`${month}/pay/set-up`, `${month}/pay/set-up?handler=Holiday`, { HolidayOn: `2027-${String(1 + (i % 12)).padStart(2, '0')}-${String(1 + (n + i) % 28).padStart(2, '0')}`, HolidayName: `Day ${n} ${i}` });
      changes.push(performance.now() - began);
      if (answer.status >= 500) failures++;
    } else {
      const answer = await person.ask(month + pages[i % pages.length]);
      await answer.arrayBuffer();
      waits.push(performance.now() - began);
      if (answer.status !== 200) failures++;
    }
    await new Promise((done) => setTimeout(done, 500));
  }
}));
const at = (list, share) => list.toSorted((a, b) => a - b)[Math.floor(list.length * share)]?.toFixed(0);
console.log(`${people} people, ${seconds} s, a file coming in: ${waits.length} pages, ${at(waits, 0.5)} ms at the median, ${at(waits, 0.95)} ms at p95; ${changes.length} changes, ${at(changes, 0.5)} and ${at(changes, 0.95)} ms; ${failures} failures`);
