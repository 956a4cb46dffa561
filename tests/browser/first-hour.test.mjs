// A book from nothing, with the files of a shop nobody here has seen: its own column names, decimal commas, a list of forty partners. To the first statement.
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { agree, noViolations } from './book.mjs';
import { artifacts, firstFolder, firstUrl } from './places.mjs';

const people = 40;
const names = ['Alder', 'Bracken', 'Clover', 'Dock', 'Elder', 'Fern', 'Gorse', 'Hazel', 'Ivy', 'Juniper'];
const kinds = ['Gazette', 'Hour', 'Kitchen', 'Walks'];
const partner = (n) => ({ name: `${names[n % 10]} ${kinds[Math.floor(n / 10)]}`, code: `${names[n % 10].toUpperCase()}${kinds[Math.floor(n / 10)][0]}` });

/** A list as a spreadsheet in another country writes it. */
const partnerList = ['Partner;Kürzel;E-Mail;Gutscheincode;Seit;Auszahlung',
  ...Array.from({ length: people }, (_, n) => `${partner(n).name};;${partner(n).code.toLowerCase()}@partner.example;${partner(n).code};${1 + (n % 28)}.01.2025;by hand`)].join('\r\n');

const articles = [['LAT-GR', 'Laterne, groß', '129,00'], ['LAT-KL', 'Laterne, klein', '1.049,50'], ['DOCHT', 'Docht', '3,90']];

/** Orders of two months ago, so that they have cleared. */
function orderList(month, year) {
  const rows = ['Auftragsnr.;Bestelldatum;Artikel-Nr.;Artikel;Menge;Stückpreis brutto;davon MwSt;Versandkosten;Gutschein;Zahlungsart;Bemerkung'];
  for (let n = 0; n < 90; n++) {
    const [sku, title, price] = articles[n % 3];
    const day = `${String(1 + (n % 27)).padStart(2, '0')}.${String(month).padStart(2, '0')}.${year} ${9 + (n % 9)}:05`;
    rows.push(`N-${1000 + n};${day};${sku};${title};${1 + (n % 2)};${price} €;0,60;4,90;${n % 4 === 3 ? '' : partner(n % people).code};Karte;`);
    if (n % 5 === 0) rows.push(`N-${1000 + n};;DOCHT;Docht;2;3,90 €;1,20;;;;`);
  }
  return rows.join('\r\n');
}

let server;
let code;

test.beforeAll(async () => {
  rmSync(firstFolder, { recursive: true, force: true });
  mkdirSync(firstFolder, { recursive: true });
  server = spawn('dotnet', ['EvenSplit.Web.dll', '--data', `${firstFolder}/book`, '--urls', firstUrl], { cwd: `${artifacts}/web` });
  code = await new Promise((found) => {
    let told = '';
    server.stdout.on('data', (text) => {
      told += text;
      const at = told.match(/code=(\w+)/);
      if (at) found(at[1]);
    });
  });
});

test.afterAll(() => server?.kill('SIGKILL'));

test.use({ baseURL: firstUrl });

const bring = async (page, name, text) => {
  await page.getByLabel('File', { exact: true }).setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
  await page.getByRole('button', { name: 'Bring it in' }).click();
};

/** The desk leads on: the step's own link, from the desk. */
async function step(page, words) {
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Desk' }).click();
  await page.getByRole('region', { name: /From nothing to the first run/ }).getByRole('link', { name: words }).click();
}

test('from an empty folder to a paid statement with a shop’s own files', async ({ page }) => {
  // Some forty-five steps, each of which works something out.
  test.setTimeout(400_000);
  await page.goto('/setup');
  await page.getByLabel('Code of the console').fill(code);
  await page.getByLabel('Name of the business').fill('Lantern House');
  await page.getByLabel('Your name').fill('Lou Lead');
  await page.getByLabel('Name to sign in with').fill('lou');
  await page.getByLabel('Time zone').fill('Europe/Berlin');
  await page.getByLabel('Password').fill('a quiet lantern here');
  await page.getByLabel(/second factor/).uncheck();
  await page.getByLabel(/works alone|work alone/).check();
  await page.getByRole('button', { name: 'Open the book' }).click();
  await page.goto('/');

  const now = new Date();
  const before = new Date(now.getFullYear(), now.getMonth() - 2, 1);
  const [month, year] = [before.getMonth() + 1, before.getFullYear()];

  await step(page, 'Say who counts as having brought an order');
  await page.getByLabel('the first before the order').check();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status').first()).toBeVisible();

  // The orders first: their columns are found, shown and agreed to.
  await step(page, 'Bring in a file of orders');
  await bring(page, 'auftraege_laternenhaus.csv', orderList(month, year));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('which column is which?');
  await expect(page.getByLabel('What the file calls order_id', { exact: true })).toHaveValue('Auftragsnr.');
  await expect(page.getByLabel('What the file calls unit_price', { exact: true })).toHaveValue('Stückpreis brutto');
  await expect(page.getByLabel('Amounts')).toHaveValue('Comma');
  await expect(page.getByRole('region', { name: 'First rows' })).toContainText('1049.50');
  await expect(page.getByText('row: product')).toHaveCount(0);
  await noViolations(page);
  await page.getByRole('button', { name: 'Take it so' }).click();
  await expect(page.locator('[data-finished]')).toContainText('Rows in quarantine');

  // The partners, before their codes are asked about.
  await step(page, 'Add who shares');
  await page.getByRole('link', { name: 'Bring in a list' }).click();
  await bring(page, 'partner.csv', partnerList);
  await expect(page.getByLabel('What the file calls codes', { exact: true })).toHaveValue('Gutscheincode');
  await expect(page.getByLabel('What the file calls active_from', { exact: true })).toHaveValue('Seit');
  await page.getByRole('button', { name: 'Show the difference' }).click();
  await expect(page.getByText(`${people} added, 0 changed`)).toBeVisible();
  await noViolations(page);
  await page.getByRole('button', { name: 'Apply all of it' }).click();
  await expect(page.getByRole('status').first()).toContainText('applied');

  // What the orders named is made in one table; the rows go in by themselves.
  await step(page, 'Make what the file named');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Not known yet: 3 products');
  await expect(page.getByLabel('Name of LAT-GR')).toHaveValue('Laterne, groß');
  await page.getByRole('button', { name: 'Make what is chosen' }).click();
  await expect(page.getByRole('status').first()).toContainText('90 orders and refunds that waited are in the book now');
  // With the orders in the book, their channel and processor stand there too; the channel is the shop's own and takes nothing.
  await expect(page.getByLabel(/^Percent that processor Karte/)).toBeVisible();
  await page.getByLabel(/^Percent that channel/).fill('0');
  await page.getByRole('button', { name: 'Make what is chosen' }).click();
  await expect(page.getByLabel(/^Percent that channel/)).toHaveCount(0);
  await noViolations(page);

  await step(page, 'Write an agreement and put them on it');
  await page.getByRole('link', { name: 'Write an agreement' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('Partners');
  await page.getByLabel('In force from').fill('2025-01-01');
  await page.getByRole('group', { name: 'Term 1' }).getByLabel('percent of the base', { exact: true }).fill('10');
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Partners');
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'People' }).click();
  await page.getByLabel('Mark all that are shown').check();
  await page.getByLabel('Agreement', { exact: true }).selectOption('partners');
  await page.getByLabel('From', { exact: true }).fill('2025-02-01');
  await page.getByRole('button', { name: 'Put them on it' }).click();
  await agree(page, 'Alder Gazette');
  await expect(page.getByRole('status').first()).toContainText(`${people} payees are on Partners`);

  // A mistake on the way: a file that is none of ours says why, and nothing is lost.
  await page.goto(`${new URL(page.url()).pathname.split('/').slice(0, 2).join('/')}/sales/import`);
  await bring(page, 'photo.csv', 'just a line');
  await expect(page.locator('.fault, .note.bad').first()).toBeVisible();

  // The processor has no fee yet: said with how many orders it touches, given, and shown before it is posted.
  await step(page, 'Give fees and exchange rates');
  await noViolations(page);
  await page.getByRole('link', { name: /^Karte \(\d+ orders\)/ }).click();
  await page.locator('#Processor_Percent').fill('1.5');
  await page.locator('#Processor_Fixed').fill('0.25');
  await page.getByRole('button', { name: 'Save the processor’s schedule' }).click();
  await agree(page, 'House');

  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Desk' }).click();
  const steps = page.getByRole('region', { name: /From nothing to the first run/ });
  await expect(steps).toContainText('8 of 9 done');
  await noViolations(page);
  await step(page, 'Gather the first run');
  await page.getByRole('button', { name: 'Gather', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Run');
  page.on('dialog', (dialog) => dialog.accept());
  await page.getByRole('button', { name: 'Lock the run' }).click();
  await page.getByRole('button', { name: /marks? looked at/ }).click();
  await page.getByRole('button', { name: 'Approve the run' }).click();
  await page.locator('tbody input[type=checkbox]').first().check();
  await page.getByLabel('Reference, as the bank shows it').fill('B-1');
  await page.getByRole('button', { name: 'Mark paid' }).click();
  await expect(page.getByRole('status').first()).toContainText('Marked paid');
  await page.getByRole('row').filter({ hasText: 'B-1' }).locator('a[data-open]').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Statement for');
  await expect(page.getByText('reference B-1')).toBeVisible();
  await noViolations(page);
});
