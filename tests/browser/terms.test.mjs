// The most careful hour of the month: terms written by keyboard, looked at, rehearsed, published, and found in the next order. After the month end in the same book.
import { expect, test } from '@playwright/test';
import { agree, bringIn, choose, noViolations, october, orderHeader, press, reach, signIn, told, type } from './book.mjs';

test.describe.configure({ mode: 'serial' });

let page;
test.beforeAll(async ({ browser }) => {
  page = await (await browser.newContext({ locale: 'en-GB' })).newPage();
  page.on('dialog', (dialog) => dialog.accept());
  await signIn(page, 'lead');
});
test.afterAll(() => page.close());

const says = () => page.getByRole('complementary', { name: 'What this draft says and does' });
const inCase = (term, number) => page.getByRole('group', { name: `Term ${term}`, exact: true }).getByRole('group', { name: `Case ${number}`, exact: true });

test('bands are written by keyboard; the gap below them is drawn and told', async () => {
  await page.goto(`${october}/terms/new`);
  await type(page, page.getByLabel('Name', { exact: true }), 'Letter writers');
  await type(page, page.getByLabel('In force from'), '1.11.2026');
  await type(page, inCase(1, 1).getByLabel('percent of the base'), '11');
  await press(page, inCase(1, 1).getByText('Only under conditions'));
  await type(page, inCase(1, 1).getByLabel('orders from, EUR'), '250');
  await press(page, page.getByRole('button', { name: 'Another case' }));
  await expect(inCase(1, 2).getByLabel('percent of the base')).toBeFocused();
  await page.keyboard.type('9');
  await type(page, inCase(1, 2).getByLabel('orders from, EUR'), '80');
  await expect(says()).toContainText('Of everything: orders from €250, 11 % of the share base; orders from €80, 9 %; otherwise nothing.');
  await expect(says()).toContainText('Of everything: a gap. With an order below €80 nothing is earned.');
  await expect(says().getByRole('img', { name: /from €0, nothing; from €80, 9 %/ })).toBeVisible();
  await noViolations(page);
});

test('a faulty case is told at its field, and what was typed stays', async () => {
  await type(page, inCase(1, 2).getByLabel('payments from'), '5');
  await type(page, inCase(1, 2).getByLabel('to', { exact: true }), '2');
  await press(page, page.getByRole('button', { name: 'Publish' }));
  await expect(inCase(1, 2).getByText('The last payment is before the first, so that none would count.')).toBeVisible();
  await expect(inCase(1, 1).getByLabel('orders from, EUR')).toHaveValue('250');
  for (const label of ['payments from', 'to']) {
    await reach(page, inCase(1, 2).getByLabel(label, { exact: true }));
    await page.keyboard.press('ControlOrMeta+a');
    await page.keyboard.press('Delete');
  }
});

test('the draft is saved and taken up again; an otherwise closes the gap', async () => {
  await press(page, page.getByRole('button', { name: 'Save as a draft' }));
  await expect(page.getByRole('status').first()).toContainText('The draft is saved; nothing is published.');
  await page.goto(`${october}/terms`);
  await press(page, page.getByRole('link', { name: 'Letter writers' }));
  await press(page, page.getByRole('button', { name: 'Another case' }));
  await expect(inCase(1, 3).getByLabel('percent of the base')).toBeFocused();
  await page.keyboard.type('7');
  await expect(says()).toContainText('orders from €80, 9 %; otherwise 7 %.');
  await expect(says()).not.toContainText('a gap');
});

test('it is rehearsed on those who are on another agreement, order by order', async () => {
  await page.getByLabel('On the payees of').selectOption('school-network');
  await page.getByLabel('Orders placed from').fill('2026-01-01');
  await page.getByLabel('to', { exact: true }).last().fill('2026-10-31');
  await press(page, page.getByRole('button', { name: 'Rehearse' }));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Rehearsal of Letter writers, orders placed 1 Jan 2026 to 31 Oct 2026');
  await expect(page.getByText(/orders compared, .* would come out differently/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('row', { name: /^House, with what refunds took back EUR/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /Publish/ })).toHaveCount(0);
  await press(page, page.getByRole('region', { name: 'Orders' }).getByRole('link').first());
  await expect(page.getByRole('region', { name: 'Then' }).locator('svg')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Now' }).locator('svg')).toBeVisible();
  await noViolations(page);
  await press(page, page.getByRole('link', { name: 'Back to the draft' }));
});

test('it is published, and a new order is computed by it', async () => {
  await press(page, page.getByRole('button', { name: 'Publish' }));
  await expect(page.getByRole('status').first()).toContainText('Letter writers is published from 1 Nov 2026.');
  await page.goto(`${october}/people/new`);
  await page.getByLabel('Name', { exact: true }).fill('Wren Letter');
  await page.getByLabel('Active from').fill('2026-10-01');
  await page.getByLabel('Coupon codes').fill('WREN9');
  await page.getByRole('button', { name: 'Save' }).click();
  await told(page);
  // New affiliates are put on the agreement that takes them; this one leaves it for the other.
  await page.goto(`${october}/terms/friends-of-the-hedge`);
  await page.getByLabel('End for Wren Letter on').fill('2026-11-01');
  await page.getByRole('row', { name: /Wren Letter/ }).getByRole('button', { name: 'End' }).click();
  await told(page);
  await page.goto(`${october}/terms/letter-writers`);
  await page.getByLabel('Payee', { exact: true }).selectOption('wren-letter');
  await page.getByLabel('From', { exact: true }).fill('2026-11-01');
  await page.getByRole('button', { name: 'Put on' }).click();
  await expect(page.getByRole('status').first()).toContainText('Wren Letter is on it');
  const row = (id, quantity) => `${id},shop,2026-11-02T10:00:00Z,2026-11-02T10:05:00Z,EUR,,new,no,,,WREN9,1,guide-hedgerow,${quantity},24.00,0,yes`;
  await bringIn(page, `${orderHeader}\n${row('WR-1', 1)}\n${row('WR-2', 5)}\n${row('WR-3', 20)}\n`);
  for (const [order, sentence] of [['WR-1', '7 % of €24.00 is €1.68.'], ['WR-2', '9 % of €120.00 is €10.80.'], ['WR-3', '11 % of €480.00 is €52.80.']]) {
    await page.goto(`${october}/sales/${order}`);
    await page.getByRole('region', { name: 'Entries' }).getByRole('link', { name: 'Wren Letter' }).click();
    await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText(sentence);
  }
});

test('a version in the past cannot be published before it was rehearsed', async () => {
  await page.goto(`${october}/terms/letter-writers/next`);
  await page.getByLabel('In force from').fill('2026-11-02');
  await inCase(1, 1).getByLabel('percent of the base').fill('12');
  await press(page, page.getByRole('button', { name: 'Publish' }));
  await expect(page.getByRole('button', { name: 'Publish from 2 Nov 2026 and post these differences' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('row', { name: /Wren Letter/ })).toContainText('4.80');
  await page.goto(`${october}/terms/letter-writers`);
  await expect(page.getByText('From 2 Nov 2026')).toHaveCount(0);
  await page.goBack();
  await press(page, page.getByRole('button', { name: /post these differences/ }));
  await expect(page.getByRole('status').first()).toContainText('Letter writers is published from 2 Nov 2026.');
  await expect(page.locator('.changes ins')).toContainText('12 %');
  await expect(async () => {
    await page.goto(`${october}/people/wren-letter`);
    await expect(page.getByRole('region', { name: 'Entries' })).toContainText('4.80', { timeout: 1000 });
  }).toPass({ timeout: 60_000 });
});

const kinds = [
  {
    name: 'Pattern makers',
    write: async () => {
      await choose(page, page.getByLabel('Earned on'), 'products they share');
      await type(page, inCase(1, 1).getByLabel('percent of the base'), '30');
      await press(page, page.getByLabel('the cost of the goods'), 'Space');
      await press(page, page.getByLabel('what the affiliate who brought the order earned'), 'Space');
    },
    reads: ['Of everything: 30 % of the share base.', 'Deducted from the base: the cost of the goods, what the affiliate earned.'],
  },
  {
    name: 'Kiln and clay',
    write: async () => {
      await choose(page, page.getByLabel('Earned on'), 'products they supply');
      await type(page, inCase(1, 1).getByLabel('percent of the base'), '25');
      await type(page, inCase(1, 1).getByLabel('EUR a unit'), '1.50');
      await choose(page, inCase(1, 1).getByLabel('who gets it'), 'the house');
    },
    reads: ['Of everything: what is left after the house keeps 25 % of the share base and €1.50 a unit.'],
  },
  {
    name: 'Field guides club',
    write: async () => {
      await type(page, inCase(1, 1).getByLabel('percent of the base'), '12');
      await press(page, inCase(1, 1).getByText('Only under conditions'));
      await type(page, inCase(1, 1).getByLabel('after sales of, EUR'), '5000');
      await choose(page, inCase(1, 1).getByLabel('counted'), 'in the quarter');
      await press(page, page.getByRole('button', { name: 'Another case' }));
      await expect(inCase(1, 2).getByLabel('percent of the base')).toBeFocused();
      await page.keyboard.type('8');
      await choose(page, page.getByLabel('Tax', { exact: true }), 'is passed');
      await choose(page, page.getByLabel('Sign-off'), 'earnings wait');
      await type(page, page.getByLabel('Whoever recruited them earns, in percent'), '5');
    },
    reads: [
      'Of everything: after sales of €5,000 this quarter, 12 % of the share base; otherwise 8 %.', 'Tax is passed on whole, on top of the share.',
      'Whoever recruited the payee earns 5 % of the same base.', 'Earnings wait until the order is signed off.',
    ],
  },
];
for (const { name, write, reads } of kinds) {
  test(`${name}: written by keyboard, it reads as it was meant, before and after it is published`, async () => {
    // A look at the draft that arrives beside the form itself must not count as the form sent twice.
    const looks = [];
    const note = (request) => request.url().endsWith('handler=Preview') && looks.push(request.postData());
    page.on('request', note);
    await page.goto(`${october}/terms/new`);
    await type(page, page.getByLabel('Name', { exact: true }), name);
    await type(page, page.getByLabel('In force from'), '1.12.2026');
    await write();
    for (const sentence of reads) await expect(says()).toContainText(sentence);
    await press(page, page.getByRole('button', { name: 'Publish' }));
    await expect(page.getByRole('status').first()).toContainText(`${name} is published from 1 Dec 2026.`);
    for (const sentence of reads) await expect(page.locator('main')).toContainText(sentence);
    page.off('request', note);
    expect(looks.length).toBeGreaterThan(0);
    expect(looks.filter((look) => look.includes('name="once"'))).toEqual([]);
  });
}

test('a file with three faults changes nothing and names the three; a sound one is shown, applied and undone', async () => {
  const send = async (content) => {
    await page.goto(`${october}/terms/bulk`);
    await page.getByLabel('File', { exact: true }).setInputFiles({ name: 'products.csv', mimeType: 'text/csv', buffer: Buffer.from(content) });
    await page.getByRole('button', { name: 'Show the difference' }).click();
  };
  await send('product,price,vendor,return_days\nguide-owls,22.005,,30\nguide-moss,27.00,nobody,30\nguide-shore,24.00,,a month\n');
  await expect(page.getByRole('alert').locator('li')).toHaveText([/Row 2: price '22.005'/, /Row 3: vendor 'nobody'/, /Row 4: return_days 'a month'/]);
  await page.goto(`${october}/terms/products/guide-moss`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('26.00');

  await send('product,price\nguide-owls,22.00\nguide-moss,27.00\n');
  await expect(page.getByText('0 added, 1 changed, 0 gone, 1 the same.')).toBeVisible();
  await expect(page.getByRole('row', { name: /guide-moss/ })).toContainText('26.00');
  await noViolations(page);
  await page.getByRole('button', { name: 'Apply all of it' }).click();
  await told(page);
  await page.goto(`${october}/terms/products/guide-moss`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('27.00');
  await page.goto(`${october}/terms/bulk`);
  await page.locator('tbody a').first().click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await told(page);
  await page.goto(`${october}/terms/products/guide-moss`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('26.00');
});

test('a table of products and rates is pasted into an agreement; a line that is none is told first', async () => {
  await page.goto(`${october}/terms/new`);
  await press(page, page.getByText('Paste a table of products and rates'));
  await page.getByLabel('Table', { exact: true }).fill('Product\tRate\nguide-hedgerow\t12,5 %\nno-such-thing\t7');
  await press(page, page.getByRole('button', { name: 'Take them in' }));
  await expect(page.getByText('Line 3: no-such-thing is no product, variant or collection of the book. Nothing was taken in.')).toBeVisible();
  await page.getByLabel('Table', { exact: true }).fill('Product\tRate\nguide-hedgerow\t12,5 %\nbox-bat\t7');
  await press(page, page.getByRole('button', { name: 'Take them in' }));
  await expect(inCase(1, 1).getByLabel('percent of the base')).toHaveValue('12.5');
  await expect(inCase(2, 1).getByLabel('percent of the base')).toHaveValue('7');
  await expect(page.getByRole('group', { name: 'Term 2', exact: true }).getByLabel('which')).toHaveValue('box-bat');
  await noViolations(page);
});

test('the split sheet says when too much is given, before it happens', async () => {
  await page.goto(`${october}/terms/products/guide-moss`);
  await expect(page.getByRole('row', { name: /Whoever brought it/ })).toBeVisible();
  await page.getByLabel('Payee', { exact: true }).selectOption('hester-vane-moor');
  await page.getByLabel('under', { exact: true }).selectOption('co-author');
  await page.getByRole('button', { name: 'Give the share' }).click();
  await expect(page.getByText('Say how much, or choose that nobody earns on it.')).toBeVisible();
  await page.getByLabel('percent of its base').fill('95');
  await page.locator('input[name="Share.From"]').fill('2026-11-03');
  await page.getByRole('button', { name: 'Give the share' }).click();
  await expect(page.getByRole('status').first()).toContainText('Hester Vane-Moor shares in it from 3 Nov 2026.');
  await expect(page.getByText('More is given away than the goods bring in')).toBeVisible();
  await expect(page.getByRole('row', { name: /Hester Vane-Moor/ })).toContainText('personal');
  await page.goto(`${october}/people/hester-vane-moor`);
  await page.getByLabel('End it on').fill('2026-11-03');
  await page.getByRole('button', { name: 'End', exact: true }).click();
  await told(page);
  await page.goto(`${october}/terms/products/guide-moss`);
  await expect(page.getByText('More is given away')).toHaveCount(0);
});

test('the coverage map tells what governs what', async () => {
  await page.goto(`${october}/terms/coverage`);
  await page.getByLabel('Collection').selectOption('field-guides');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('8 products');
  await expect(page.getByRole('row', { name: /The hedgerow year/ })).toContainText('€1.50');
  await expect(page.getByRole('row', { name: /The hedgerow year/ })).toContainText('12 % + flat ▾');
});

test('a term of one payee’s own, with conditions, is written by keyboard; a wrong end is told first', async () => {
  await page.goto(`${october}/people/bram-pucknell`);
  await press(page, page.getByRole('link', { name: 'Write a term of their own' }));
  const term = page.getByRole('group', { name: 'The term', exact: true });
  const inOwn = (number) => term.getByRole('group', { name: `Case ${number}`, exact: true });
  // From a day with sales: from today on it would depend on the hour whether there is anything to show.
  await type(page, page.getByLabel('In force from'), '1.10.2026');
  await type(page, page.getByLabel('Until'), '1.1.2026');
  await type(page, inOwn(1).getByLabel('percent of the base'), '12');
  await press(page, inOwn(1).getByText('Only under conditions'));
  await type(page, inOwn(1).getByLabel('orders from, EUR'), '80');
  await expect(page.getByRole('complementary', { name: 'What this term says and does' })).toContainText('a gap. With an order below €80 nothing is earned.');
  await press(page, page.getByRole('button', { name: 'Another case' }));
  await expect(inOwn(2).getByLabel('percent of the base')).toBeFocused();
  await page.keyboard.type('9');
  await press(page, page.getByRole('button', { name: 'Write the term' }));
  await expect(page.getByText('It ends before it begins: choose a later day, or leave it empty.')).toBeVisible();
  await expect(inOwn(1).getByLabel('orders from, EUR')).toHaveValue('80');
  await noViolations(page);
  await reach(page, page.getByLabel('Until'));
  await page.keyboard.press('ControlOrMeta+a');
  for (let part = 0; part < 3; part++) {
    await page.keyboard.press('Delete');
    await page.keyboard.press('ArrowRight');
  }
  await expect(page.getByLabel('Until')).toHaveValue('');
  await press(page, page.getByRole('button', { name: 'Write the term' }));
  await agree(page);
  await told(page);
  await expect(page.getByRole('region', { name: 'Terms of their own' })).toContainText('Of everything: orders from €80, 12 % of the share base; otherwise 9 %.');
});
