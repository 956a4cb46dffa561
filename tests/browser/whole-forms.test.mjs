// Every form of every page, taken from the routes themselves: sent twice at one moment and once more, it is done once. What is linked opens for whoever sees the link.
import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import { pagesOf } from '../../bench/addresses.mjs';
import { bookHolds, october, signIn } from './book.mjs';
import { artifacts, resultsFolder } from './places.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
});
test.afterAll(() => page.close());

/** What the application says its addresses are: a pattern, then its parameters. */
const routesOf = () => execFileSync('dotnet', ['EvenSplit.Web.dll', '--data', `${resultsFolder}routes`, '--addresses'], { cwd: `${artifacts}/web`, encoding: 'utf8' })
  .trim().split('\n').filter((line) => line.startsWith('/'));

/** Each page's address, with something of the demonstration book in the place of its parameters. */
async function addresses() {
  const routes = routesOf().filter((line) => line.startsWith('/{period')).map((line) => line.split(' ')[0]);
  const first = async (list, selector) => {
    await page.goto(`${october}${list}`);
    return page.locator(selector).first().getAttribute('href');
  };
  const things = {
    '/sales/{orderId}': await first('/sales?kind=refunded', 'a[data-open]'), '/sales/imports/{id:int}': await first('/sales/import', 'tbody a'), '/people/{id}': `${october}/people/ines-fennelow`,
    '/terms/{id}': `${october}/terms/friends-of-the-hedge`, '/terms/products/{id}': `${october}/terms/products/guide-hedgerow`, '/terms/paths/{id}': `${october}/terms/paths/after-a-field-guide`,
    '/pay/{id:int}': await first('/pay', 'a[data-open]'),
  };
  const known = [...new Set(routes)].map((route) => {
    const rest = route.replace('/{period:period}', '');
    const thing = Object.keys(things).filter((t) => rest.startsWith(t)).sort((a, b) => b.length - a.length)[0];
    return (thing ? things[thing] + rest.slice(thing.length) : october + rest).replace('{payee}', 'ines-fennelow');
  });
  // Who is signed in may be signed out by a form of these.
  return known.filter((address) => !address.includes('{')).sort((a, b) => a.endsWith('/users') - b.endsWith('/users'));
}

/** The forms of the page that is open, as they would be sent: each once for each of its buttons. */
const forms = () => page.evaluate(() => [...document.querySelectorAll('form[method=post]')].flatMap((form) => {
  const buttons = [...form.querySelectorAll('button[type=submit], button:not([type])')];
  return (buttons.length > 0 ? buttons : [null]).map((button) => ({
    to: new URL(button?.getAttribute('formaction') ?? form.getAttribute('action') ?? location.href, location.href).href,
    isMultipart: form.enctype === 'multipart/form-data',
    fields: [...new FormData(form, button)].map(([name, value]) => [name, typeof value === 'string' ? value : null]),
  }));
}));

/** Sends a form as a browser does; answers with the status and where it leads. */
async function send({ to, isMultipart, fields }) {
  const body = isMultipart ? new FormData() : new URLSearchParams();
  for (const [name, value] of fields) body.append(name, value ?? new File([], ''));
  const cookies = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ');
  const answer = await fetch(to, { method: 'POST', body, redirect: 'manual', headers: { cookie: cookies, origin: new URL(to).origin, referer: to } });
  return { status: answer.status, to: answer.headers.get('location') };
}

// Before the forms, which end people too.
for (const role of ['approver', 'bookkeeper']) {
  test(`what is linked opens for the ${role}`, async ({ browser }) => {
    test.setTimeout(200_000);
    const all = await (async () => {
      await signIn(page, 'lead');
      return addresses();
    })();
    const other = await (await browser.newContext({ locale: 'en-GB' })).newPage();
    await signIn(other, role);
    const asked = new Map();
    const shut = [];
    for (const address of all) {
      if ((await other.goto(address)).status() >= 400) continue;
      for (const href of await other.evaluate(() => [...document.querySelectorAll('main a[href]')].map((a) => new URL(a.getAttribute('href'), location.href).href).filter((h) => h.startsWith(location.origin)))) {
        const kind = href.replace(/\d+/g, '0').replace(/(people|terms|products)\/[a-z-]+/g, '$1/x');
        if ((asked.get(kind) ?? 0) >= 2) continue;
        asked.set(kind, (asked.get(kind) ?? 0) + 1);
        const answer = await other.request.get(href, { maxRedirects: 0 });
        if (answer.status() === 403 || /refused|sign-in/.test(answer.headers().location ?? '')) shut.push(`${address}: ${href}`);
      }
    }
    expect(shut).toEqual([]);
    await other.close();
  });
}

test('the bench of pages knows every page and filter', () => {
  const found = Object.fromEntries(['order', 'run', 'import', 'path', 'bulk', 'entry', 'salesAfter', 'booksAfter', 'payeeAfter', 'agreement', 'ownEntry', 'ownAfter'].map((what) => [what, `some-${what}`]));
  const routes = routesOf();
  const pages = pagesOf(routes, found);
  expect(pages.length).toBeGreaterThan(routes.filter((r) => !r.includes('handler=')).length);
  expect(pages.filter(([, address]) => address?.includes('{'))).toEqual([]);
  expect(() => pagesOf([...routes, '/{period:period}/sales of-a-new-filter'], found)).toThrow('/sales?of-a-new-filter=');
  expect(() => pagesOf([...routes, '/{period:period}/sales/{unheard}/of'], found)).toThrow('say in bench/addresses.mjs');
});

test('every form, sent twice at one moment and once more, leads where it led first', async () => {
  test.setTimeout(600_000);
  await signIn(page, 'lead');
  const wrong = [];
  const seen = new Map();
  let sent = 0;
  for (const address of await addresses()) {
    await page.goto(address);
    for (const form of await forms()) {
      const kind = form.to.replace(/\d+/g, '0');
      if (new URL(form.to).pathname === '/sign-out' || (seen.get(kind) ?? 0) >= 2) continue;
      seen.set(kind, (seen.get(kind) ?? 0) + 1);
      const [one, two] = await Promise.all([send(form), send(form)]);
      const again = await send(form);
      sent += 1;
      const says = `${address}, ${form.to}: ${JSON.stringify([one, two, again])}`;
      if ([one, two, again].some((answer) => answer.status >= 500 || answer.status === 400)) wrong.push(says);
      // What was done is done once: whoever comes later is led to the same place, or where a secret or a file was shown once, back to the page. What was refused is refused again.
      const led = [one, two, again].filter((answer) => answer.to && !answer.to.includes('/sign-in'));
      const refused = [one, two, again].filter((answer) => answer.status >= 400);
      if (new Set(led.map((answer) => answer.to)).size > 1 || (refused.length > 0 && refused.length < 3)) wrong.push(says);
      if (!form.fields.some(([name, value]) => name === 'once' && value)) wrong.push(`${address}, ${form.to}: without a token`);
    }
    if ((await page.goto(october)).url().includes('/sign-in')) await signIn(page, 'lead');
  }
  expect(wrong).toEqual([]);
  expect(sent).toBeGreaterThan(60);
});

test('whatever was sent, the book holds', async () => {
  await bookHolds(page);
});
