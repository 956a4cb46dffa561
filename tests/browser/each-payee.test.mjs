// Before the month end, which moves the clock. A payee's own pages: from the mailed link to a statement, an entry, a question, a payment, a bank account and a tax form; on a phone, with scripts off. Beside them what the lead does.
import { readFileSync, readdirSync, statSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { noViolations, signIn, told } from './book.mjs';
import { demoFolder, demoUrl } from './places.mjs';

test.describe.configure({ mode: 'serial' });

const outbox = `${demoFolder}/outbox`;
const pages = ['/me', '/me/ledger', '/me/statements', '/me/links', '/me/agreements', '/me/questions', '/me/details', '/me/sign-ins'];
const payee = '/2026-11/people/quiet-field-letter';

let lead, approver, own;
test.beforeAll(async ({ browser }) => {
  lead = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  approver = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  own = await (await browser.newContext({ locale: 'en-GB', javaScriptEnabled: false, viewport: { width: 390, height: 844 } })).newPage();
  await signIn(lead, 'lead');
  await signIn(approver, 'approver');
});
test.afterAll(() => Promise.all([lead, approver, own].map((p) => p.context().close())));

/** The text of the last mail of a kind, its soft line ends taken out. */
function mail(kind, containing = '') {
  const texts = readdirSync(outbox).filter((f) => f.startsWith(`${kind}-`)).sort((a, b) => statSync(`${outbox}/${a}`).mtimeMs - statSync(`${outbox}/${b}`).mtimeMs).map((f) => readFileSync(`${outbox}/${f}`, 'utf8').replaceAll('=\r\n', '').replaceAll('=\n', '').replaceAll('=3D', '='));
  return texts.filter((text) => text.includes(containing)).at(-1);
}

const money = (words) => Number(words.replaceAll('−', '-').replace(/[^0-9.-]/g, ''));

test('the link the lead mails opens once', async ({ browser }) => {
  await lead.goto(payee);
  await lead.getByRole('button', { name: 'Mail them a link to their pages' }).click();
  await told(lead);
  const link = new URL(mail('sign-in').match(/https?:\/\/\S+token=[0-9a-f]{64}/)[0]);
  await own.goto(link.pathname + link.search);
  await own.getByRole('button', { name: 'Sign in' }).click();
  await expect(own.getByRole('navigation', { name: 'Pages' })).toBeVisible();
  const other = await (await browser.newContext()).newPage();
  await other.goto(link.pathname + link.search);
  await expect(other.getByRole('heading', { level: 1 })).toHaveText('This link opens nothing');
  await other.goto('/me/ledger');
  expect(other.url()).toContain('/me/sign-in');
  await other.context().close();
});

test('what they see is what the house sees of them', async () => {
  await lead.goto(payee);
  await own.goto('/me');
  for (const name of ['held', 'cleared']) {
    const [theirs, ours] = await Promise.all([own, lead].map((p) => p.locator(`[data-measure="${name}"][data-of="quiet-field-letter"]`).textContent()));
    expect(money(theirs)).toBeGreaterThan(0);
    expect(money(theirs)).toBe(money(ours));
  }
  await expect(own.locator('main')).toContainText('When what is held clears, in EUR');
});

test('an entry adds up to what it is taken of, and the statement leads to it', async () => {
  await own.goto('/me/statements');
  await own.getByRole('region', { name: 'Statements' }).getByRole('link').first().click();
  await expect(own.getByRole('heading', { level: 1 })).toContainText('Statement as of');
  await own.getByRole('region', { name: 'Entries' }).getByRole('link').first().click();
  await expect(own.locator('main')).toContainText('at the sale.');

  await lead.goto('/2026-11/terms/friends-of-the-hedge/shows');
  await lead.getByLabel('How a share came about').selectOption('and each step to it');
  await lead.getByLabel('the order’s id; otherwise a number that stands for it').uncheck();
  await lead.getByRole('button', { name: 'Show how it would look' }).click();
  await expect(lead.getByRole('region', { name: 'As they see it' })).toContainText(/sale [0-9A-F]{8}/);
  await own.reload();
  await expect(own.getByRole('heading', { level: 1 })).toContainText('HS-');
  await lead.getByRole('button', { name: 'Save' }).click();
  await told(lead);
  await own.reload();
  await expect(own.getByRole('heading', { level: 1 })).toContainText(/sale [0-9A-F]{8}/);
  const steps = await own.locator('table tbody td.n').allTextContents();
  const [base = steps[0]] = await own.locator('table tfoot td.n').allTextContents();
  expect(steps.reduce((sum, step) => sum + Math.round(money(step) * 100), 0)).toBe(Math.round(money(base) * 100));
  await own.goto('/me/ledger');
  await expect(own.locator('main')).not.toContainText('HS-');
});

test('a question is answered beside the entry', async () => {
  await own.goto('/me/ledger');
  await own.getByRole('region', { name: 'Entries' }).getByRole('link').first().click();
  await own.getByRole('link', { name: 'Ask about it' }).click();
  await own.getByLabel(/Your question about entry/).fill('Why so little?');
  await own.getByRole('button', { name: 'Ask' }).click();
  await told(own);
  await lead.goto('/2026-11');
  await lead.getByRole('link', { name: /question.* of payees: answer/ }).click();
  const asked = lead.locator('article', { hasText: 'Why so little?' });
  await asked.getByText(/The entry as they see it/).click();
  await expect(asked).toContainText('at the sale.');
  await noViolations(lead);
  await asked.getByLabel(/Answer to/).fill('It was a small print.');
  await asked.getByRole('button', { name: 'Answer' }).click();
  await told(lead);
  await own.goto('/me/questions');
  await expect(own.locator('main')).toContainText('It was a small print.');
  expect(mail('answer')).toContain('It was a small print.');
});

test('they accept what is agreed', async () => {
  await own.goto('/me');
  await own.getByRole('main').getByRole('link', { name: 'Friends of the hedge' }).click();
  await own.getByRole('button', { name: 'I have read it and accept it' }).click();
  await told(own);
  await lead.goto('/2026-11/terms/friends-of-the-hedge');
  await expect(lead.locator('main')).toContainText('Accepted by Quiet Field Letter on 3 Nov 2026, on their pages, from 127.0.0.1');
});

test('a new bank account is told by mail at once, confirmed by another person, and waits two days', async () => {
  await own.goto('/me/details');
  await own.getByLabel('Name of the account').fill('Quiet Field Letter');
  await own.getByLabel('IBAN').fill('IE29 AIBK 9311 5212 3456 79');
  await own.getByRole('button', { name: 'Ask for this change' }).click();
  await expect(own.getByLabel('IBAN')).toHaveAttribute('aria-invalid', 'true');
  await expect(own.getByLabel('Name of the account')).toHaveValue('Quiet Field Letter');
  await own.getByLabel('IBAN').fill('IE29 AIBK 9311 5212 3456 78');
  await own.getByLabel('BIC').fill('AIBKIE2D');
  await own.getByRole('button', { name: 'Ask for this change' }).click();
  await told(own);
  await expect(own.locator('main')).toContainText('waits to be confirmed');
  expect(mail('details', 'Quiet Field Letter')).toContain('as Quiet Field Letter asked on 3 Nov 2026');
  await approver.goto('/2026-11/pay/details');
  await approver.getByRole('row', { name: /Quiet Field Letter/ }).getByRole('button', { name: /Confirm/ }).click();
  await told(approver);
  await own.goto('/me/details');
  await expect(own.locator('main')).toContainText('used from 5 Nov 2026');
});

test('a tax form is sent, looked at and taken', async () => {
  await own.goto('/me/details');
  await own.getByLabel('Your form').setInputFiles({ name: 'form.html', mimeType: 'text/html', buffer: Buffer.from('<script>alert(1)</script>') });
  await own.getByRole('button', { name: 'Send it' }).click();
  await expect(own.locator('main')).toContainText('Send a PDF, or a picture');
  await own.getByLabel('Your form').setInputFiles({ name: 'residence.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.7\n%%EOF') });
  await own.getByRole('button', { name: 'Send it' }).click();
  await told(own);
  await lead.goto('/2026-11/people/tax-forms');
  await noViolations(lead);
  const row = lead.getByRole('row', { name: /residence.pdf/ });
  await row.getByLabel('Which form, of which year').fill('Residence, 2026');
  await row.getByRole('button', { name: /^Take it/ }).click();
  await told(lead);
  await lead.goto(payee);
  await expect(lead.locator('main')).toContainText('Residence, 2026');
});

test('paid on request they ask, and the lead gathers a run for them', async () => {
  await lead.goto(`${payee}/edit`);
  await lead.getByLabel('Schedule').fill('request');
  await lead.getByRole('button', { name: 'Save' }).click();
  await told(lead);
  await own.goto('/me');
  await own.getByRole('button', { name: 'Ask to be paid' }).click();
  await told(own);
  await expect(own.locator('main')).toContainText('You asked to be paid on 3 Nov 2026');
  await lead.goto('/2026-11');
  await lead.getByRole('link', { name: /asks to be paid/ }).click();
  await lead.getByRole('button', { name: 'Gather a run for them' }).click();
  await expect(lead.locator('main')).toContainText('Quiet Field Letter');
  await lead.getByRole('button', { name: 'Discard' }).click();
  await own.goto('/me');
  await own.getByRole('button', { name: 'Ask no more' }).click();
  await lead.goto(`${payee}/edit`);
  await lead.getByLabel('Schedule').fill('monthly');
  await lead.getByRole('button', { name: 'Save' }).click();
  await told(lead);
});

test('materials come with their own link, and their data as one file', async () => {
  await lead.goto('/2026-11/people/materials');
  await lead.getByLabel('Name', { exact: true }).fill('A line for a letter');
  await lead.getByLabel('Text', { exact: true }).fill('Walk with us: {link}, or say {code} at the till.');
  await lead.getByRole('button', { name: 'Offer it' }).click();
  await told(lead);
  await noViolations(lead);
  await own.goto('/me/links?to=/p/print-fox');
  await expect(own.getByLabel('A line for a letter')).toHaveValue(/\/go\/quiet-field-letter.*print-fox, or say QUIETFIEL14/);
  const data = await (await own.request.get('/me/details?handler=Data')).json();
  expect(data.payee.id).toBe('quiet-field-letter');
  expect(JSON.stringify(data)).not.toContain('ines-fennelow');
});

test('their pages have no fault that axe finds, on a phone and a desk, and fit', async ({ browser }) => {
  for (const width of [390, 1280]) {
    const page = await (await browser.newContext({ locale: 'en-GB', viewport: { width, height: 844 }, storageState: await own.context().storageState() })).newPage();
    for (const address of [...pages, (await ledgerEntry(page))]) {
      await page.goto(address);
      await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
      await noViolations(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
    }
    await page.context().close();
  }
});

async function ledgerEntry(page) {
  await page.goto('/me/ledger');
  return page.getByRole('region', { name: 'Entries' }).getByRole('link').first().getAttribute('href');
}

test('a customer sees the friends they brought, by a link that nobody makes up', async ({ browser }) => {
  await lead.goto('/2026-11/terms/rewards');
  const href = await lead.getByRole('link', { name: /^Open the page of/ }).first().getAttribute('href');
  const page = await (await browser.newContext({ locale: 'en-GB', viewport: { width: 390, height: 844 } })).newPage();
  await page.goto(href);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('you brought');
  await noViolations(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect((await page.goto(`${href.slice(0, -4)}AAAA`)).status()).toBe(404);
  await page.context().close();
});

test('ended from afar, a sign-in opens nothing more', async () => {
  await own.goto('/me/sign-ins');
  await own.getByRole('button', { name: /Sign out/ }).click();
  await own.goto('/me');
  expect(own.url()).toContain('/me/sign-in');
});

test('a passkey, once made, opens the page they came for', async ({ browser }) => {
  // A passkey belongs to a name, never to a number.
  const site = demoUrl.replace('127.0.0.1', 'localhost');
  const page = await (await browser.newContext({ locale: 'en-GB', viewport: { width: 390, height: 844 } })).newPage();
  const authenticator = await page.context().newCDPSession(page);
  await authenticator.send('WebAuthn.enable');
  await authenticator.send('WebAuthn.addVirtualAuthenticator', {
    options: { protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true, isUserVerified: true, automaticPresenceSimulation: true },
  });
  await lead.goto(payee);
  await lead.getByRole('button', { name: 'Mail them a link to their pages' }).click();
  await told(lead);
  const link = new URL(mail('sign-in').match(/https?:\/\/\S+token=[0-9a-f]{64}/)[0]);
  await page.goto(site + link.pathname + link.search);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('link', { name: 'Details' }).click();
  await page.getByRole('link', { name: /^Signing in/ }).click();
  await page.getByLabel('Name of the new passkey').fill('my phone');
  await page.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(page.getByText(/^my phone, since/)).toBeVisible();
  expect(mail('how-to-sign-in')).toContain('passkey my phone');
  await noViolations(page);
  await page.getByRole('button', { name: /Sign out/ }).click();

  await page.goto(`${site}/me/questions`);
  await expect(page).toHaveURL(/\/me\/sign-in/);
  await noViolations(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole('button', { name: 'Use a passkey instead' }).click();
  await expect(page).toHaveURL(/\/me\/questions$/);
  await page.goto(`${site}/me/sign-ins`);
  await page.getByRole('button', { name: /^Take it away/ }).click();
  await expect(page.getByText(/^my phone, since/)).toHaveCount(0);
  await page.context().close();
});
