// People come in: a machine, one who is declined and then approved for a path, one who joins at once; decided by keyboard. Then an invitation.
import { readFileSync, readdirSync, statSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { noViolations, signIn, told } from './book.mjs';
import { demoFolder } from './places.mjs';

test.describe.configure({ mode: 'serial' });

const queue = '/2026-11/people/applications';
const outbox = `${demoFolder}/outbox`;

let lead;
test.beforeAll(async ({ browser }) => {
  lead = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  await signIn(lead, 'lead');
});
test.afterAll(() => lead.context().close());

/** The text of the last mail of a kind to an address, its soft line ends taken out. */
function mail(kind, address) {
  const texts = readdirSync(outbox).filter((f) => f.startsWith(`${kind}-`)).sort((a, b) => statSync(`${outbox}/${a}`).mtimeMs - statSync(`${outbox}/${b}`).mtimeMs).map((f) => readFileSync(`${outbox}/${f}`, 'utf8')).filter((text) => text.includes(address));
  return texts.map((text) => text.replaceAll('=\r\n', '').replaceAll('=\n', '').replaceAll('=3D', '=')).at(-1);
}

const linkIn = (text) => new URL(text.match(/https?:\/\/\S+token=[0-9a-f]{64}/)[0]);

/** Somebody on a phone, with scripts off. */
async function somebody(browser) {
  return (await browser.newContext({ locale: 'en-GB', javaScriptEnabled: false, viewport: { width: 390, height: 800 } })).newPage();
}

async function fillIn(page, { name, email, answers = {} }) {
  await page.getByLabel('Your name').fill(name);
  await page.getByLabel('E-mail').fill(email);
  await page.getByLabel('Country you are paid in').selectOption('Ireland');
  for (const [question, answer] of Object.entries(answers)) {
    const field = page.getByLabel(question);
    if ((await field.evaluate((e) => e.tagName).catch(() => 'INPUT')) === 'SELECT') await field.selectOption(answer);
    else await field.fill(answer);
  }
  const accepts = page.getByLabel('I have read it and accept it');
  if (await accepts.count()) await accepts.check();
  // Quicker than anybody writes, it is not taken.
  await page.waitForTimeout(2200);
}

const hedge = { 'What do you make?': 'Letters from the lane.', 'How many people see it in a month?': 'under 1 000' };

async function ask(browser, agreement, who) {
  const page = await somebody(browser);
  await page.goto(`/apply/${agreement}`);
  await fillIn(page, who);
  await page.getByRole('button', { name: 'Ask to take part' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Look into your mail');
  return page;
}

async function confirm(page, email) {
  const link = linkIn(mail('confirm', email));
  await page.goto(link.pathname + link.search);
  await page.getByRole('button', { name: 'Yes, it is mine' }).click();
}

test('the public page has no fault that axe finds, and fits a phone', async ({ browser }) => {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  for (const address of ['/apply', '/apply/friends-of-the-hedge', '/apply/confirm?token=x', '/apply/answer?token=x', '/apply/invitation?token=x']) {
    await page.goto(address);
    await noViolations(page);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
  expect((await page.goto('/apply/nowhere')).status()).toBe(404);
  await page.context().close();
});

test('a machine that fills in what nobody sees is thanked, and nothing is kept', async ({ browser }) => {
  const page = await (await browser.newContext()).newPage();
  await page.goto('/apply/friends-of-the-hedge');
  await fillIn(page, { name: 'Machine', email: 'machine@machines.example', answers: hedge });
  await page.locator('#Homepage').evaluate((field) => { field.value = 'https://machines.example'; });
  await page.getByRole('button', { name: 'Ask to take part' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Look into your mail');
  expect(mail('confirm', 'machine@machines.example')).toBeUndefined();
  await page.context().close();
});

test('what is wrong is told at its field, and what was typed stays', async ({ browser }) => {
  const page = await (await browser.newContext()).newPage();
  await page.goto('/apply/friends-of-the-hedge');
  await fillIn(page, { name: 'Linden Marrowick', email: 'linden@marrowick.example', answers: hedge });
  await page.getByLabel('Where you are seen').fill('javascript:alert(1)');
  await page.getByRole('button', { name: 'Ask to take part' }).click();
  await expect(page.getByLabel('Where you are seen')).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByLabel('Your name')).toHaveValue('Linden Marrowick');
  await page.context().close();
});

test('one asks, is declined by keyboard, asks again and is approved for a path', async ({ browser }) => {
  const who = { name: 'Linden Marrowick', email: 'linden@marrowick.example', answers: hedge };
  await confirm(await ask(browser, 'friends-of-the-hedge', who), who.email);
  await lead.goto(queue);
  await noViolations(lead);
  await lead.getByRole('link', { name: who.name }).focus();
  await lead.keyboard.press('Enter');
  await expect(lead.locator('#opened')).toContainText('Letters from the lane.');
  await lead.keyboard.press('d');
  await expect(lead.getByLabel('Why not, or what to ask')).toBeFocused();
  await lead.keyboard.type('Not for everything we sell.');
  await lead.keyboard.press('Tab');
  await lead.keyboard.press('d');
  await expect(lead.getByRole('status').first()).toContainText('declined');
  expect(mail('declined', who.email)).toContain('Not for everything we sell.');

  await confirm(await ask(browser, 'friends-of-the-hedge', who), who.email);
  await lead.goto(queue);
  await lead.getByRole('link', { name: who.name }).click();
  await expect(lead.locator('#opened')).toContainText('declined by Maeve Thornfield');
  await lead.getByLabel('Approve for').selectOption('the offer path chosen below');
  await lead.getByText('Products and offer paths').click();
  await lead.getByLabel('Offer path', { exact: true }).selectOption({ index: 1 });
  await lead.getByRole('button', { name: 'Approve' }).focus();
  await lead.keyboard.press('a');
  await expect(lead.getByRole('status').first()).toContainText('1 person takes part');
  const welcome = mail('welcome', who.email);
  expect(welcome).toContain('LINDENMARROW');
  await lead.goto('/2026-11/people/linden-marrowick');
  await expect(lead.locator('main')).toContainText('Friends of the hedge');
  await expect(lead.locator('main')).toContainText('60');
});

test('who is marked stays marked when the reason for declining is missing', async () => {
  await lead.goto(queue);
  await lead.getByLabel('Mark all').check();
  const marked = lead.locator('[name=Marked]');
  const people = await marked.count();
  expect(people).toBeGreaterThan(1);
  await lead.getByRole('button', { name: 'Decline' }).click();
  await expect(lead.getByLabel('Why not, or what to ask')).toHaveAttribute('aria-invalid', 'true');
  await expect(marked).toHaveCount(people);
  await expect(lead.locator('[name=Marked]:checked')).toHaveCount(people);
});

test('one joins at once; the link of the mail opens once, and a link of nobody nothing', async ({ browser }) => {
  const who = { name: 'Sorrel Achterberg', email: 'sorrel@achterberg.example' };
  const page = await ask(browser, 'club-hosts', who);
  await page.goto(`/apply/confirm?token=${'0'.repeat(64)}`);
  await page.getByRole('button', { name: 'Yes, it is mine' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('This link opens nothing');
  await confirm(page, who.email);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('You take part');
  await confirm(page, who.email);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('You take part');
  await lead.goto(`${queue}?shows=Decided`);
  await expect(lead.getByRole('row', { name: /Sorrel Achterberg/ })).toHaveCount(1);
});

test('asked back, they answer by their own link', async ({ browser }) => {
  await lead.goto(queue);
  await lead.getByRole('link', { name: 'Wren Tallowby' }).click();
  await lead.getByLabel('Why not, or what to ask').fill('Which lanes do you walk?');
  await lead.getByRole('button', { name: 'Ask back' }).click();
  await expect(lead.getByRole('status').first()).toContainText('asked by mail');
  const page = await somebody(browser);
  const link = linkIn(mail('asked-back', 'wren@tallowby.example'));
  await page.goto(link.pathname + link.search);
  await page.getByLabel('Which lanes do you walk?').fill('Those below the church.');
  await page.getByRole('button', { name: 'Answer' }).click();
  await lead.goto(queue);
  await lead.getByRole('link', { name: 'Wren Tallowby' }).click();
  await expect(lead.locator('#opened')).toContainText('Those below the church.');
});

test('an invited person accepts and is in', async ({ browser }) => {
  await lead.goto('/2026-11/people/invitations');
  await noViolations(lead);
  await lead.getByText('Invite people').click();
  await lead.getByLabel('To', { exact: true }).selectOption('Friends of the hedge');
  await lead.getByLabel('Whom').fill('Teasel Cray <teasel@cray.example>\nnot an address');
  await lead.getByRole('button', { name: 'Invite them' }).click();
  await expect(lead.locator('main')).toContainText('Line 2, not an address');
  await lead.getByLabel('Whom').fill('Teasel Cray <teasel@cray.example>');
  await lead.getByRole('button', { name: 'Invite them' }).click();
  await expect(lead.getByRole('status').first()).toContainText('1 person is invited');
  const page = await somebody(browser);
  const link = linkIn(mail('invitation', 'teasel@cray.example'));
  await page.goto(link.pathname + link.search);
  await expect(page.getByLabel('Your name')).toHaveValue('Teasel Cray');
  await page.getByLabel('Country you are paid in').selectOption('Ireland');
  for (const [question, answer] of Object.entries(hedge)) {
    const field = page.getByLabel(question);
    if (answer === 'under 1 000') await field.selectOption(answer);
    else await field.fill(answer);
  }
  const accepts = page.getByLabel('I have read it and accept it');
  if (await accepts.count()) await accepts.check();
  await page.getByRole('button', { name: 'Take part' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('You take part');
  await lead.goto('/2026-11/people/invitations');
  await expect(lead.getByRole('row', { name: /teasel@cray.example/ })).toContainText('accepted on');
});

test('two hundred come in by a file: with three faults none, sound all, and undone again none', async () => {
  const rows = Array.from({ length: 200 }, (_, i) => `walker-${i},Walker ${i},affiliate,walker${i}@walkers.example,EUR,2026-11-03,WALKER${i},friends-of-the-hedge`);
  const send = async (lines) => {
    await lead.goto('/2026-11/sales/import');
    await lead.getByLabel('File', { exact: true }).setInputFiles({ name: 'payees.csv', mimeType: 'text/csv', buffer: Buffer.from(['payee,name,role,email,payout_currency,active_from,codes,agreements', ...lines].join('\n') + '\n') });
    await lead.getByRole('button', { name: 'Bring it in' }).click();
    await lead.getByRole('button', { name: 'Show the difference' }).click();
  };
  const wrong = [...rows];
  wrong[3] = wrong[3].replace('walker3@walkers.example', 'no address');
  wrong[50] = wrong[50].replace('EUR', 'XXX');
  wrong[199] = wrong[199].replace('friends-of-the-hedge', 'nowhere');
  await send(wrong);
  await expect(lead.getByRole('alert').locator('li')).toHaveText([/Row 5/, /Row 52/, /Row 201/]);
  await send(rows);
  await expect(lead.getByText('200 added, 0 changed, 0 gone, 0 the same.')).toBeVisible();
  const change = lead.url();
  await lead.getByRole('button', { name: 'Apply all of it' }).click();
  await told(lead);
  await lead.goto('/2026-11/people/walker-199');
  await expect(lead.getByRole('heading', { level: 1 })).toContainText('Walker 199');
  await lead.goto(change);
  await lead.getByRole('button', { name: 'Undo' }).click();
  await told(lead);
  expect((await lead.goto('/2026-11/people/walker-199')).status()).toBe(404);
});

test('contacts of an address book fill the form, and nobody is invited by that', async () => {
  await lead.goto('/2026-11/people/invitations');
  await lead.getByText('Invite people').click();
  await lead.getByLabel('From a file').setInputFiles({ name: 'book.vcf', mimeType: 'text/vcard', buffer: Buffer.from('BEGIN:VCARD\nVERSION:4.0\nFN:Fescue Marl\nEMAIL:fescue@marl.example\nEND:VCARD\n') });
  await lead.getByRole('button', { name: 'Read it' }).click();
  await expect(lead.getByLabel('Whom')).toHaveValue('Fescue Marl <fescue@marl.example>');
  expect(mail('invitation', 'fescue@marl.example')).toBeUndefined();
  await lead.getByLabel('To', { exact: true }).selectOption('Friends of the hedge');
  await lead.getByRole('button', { name: 'Invite them' }).click();
  await told(lead);
  expect(mail('invitation', 'fescue@marl.example')).toBeDefined();
  await lead.getByRole('row', { name: /fescue@marl.example/ }).getByRole('button', { name: /Withdraw/ }).click();
  await told(lead);
});

test('floods from one network are held up', async ({ request }) => {
  const form = await (await request.get('/apply/friends-of-the-hedge')).text();
  const field = (name) => form.match(new RegExp(`name="${name}"[^>]*value="([^"]*)"`))?.[1] ?? '';
  const token = form.match(/name="__RequestVerificationToken"[^>]*value="([^"]*)"/)[1];
  const answers = [];
  for (let i = 0; i < 14; i++) {
    const answer = await request.post('/apply/friends-of-the-hedge', { form: { __RequestVerificationToken: token, Stamp: field('Stamp'), 'Fields.Name': 'Flood' }, maxRedirects: 0 });
    answers.push(await answer.text());
  }
  expect(answers.at(-1)).toContain('Too much comes from here');
});
