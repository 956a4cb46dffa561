import { chromium } from 'playwright-core';
import { readFileSync } from 'node:fs';
const base = process.env.BASE ?? 'http://127.0.0.1:5380';
const lines = readFileSync(process.env.SIGNINS ?? '../../var/demo/sign-ins.txt', 'utf8').trim().split('\n').map((l) => l.trim().split(/\s+/));
const [, name, password] = lines.find((l) => l[0] === (process.env.ROLE ?? 'lead'));
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const page = await (await b.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' })).newPage();
page.on('dialog', (d) => d.accept());
page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()));
await page.goto(base + '/sign-in'); await page.getByLabel('Name').fill(name); await page.getByLabel('Password').fill(password); await page.getByRole('button', { name: 'Sign in' }).click(); await page.waitForLoadState();
for (const step of process.argv.slice(2)) {
  const [verb, ...rest] = step.split(':'); const arg = rest.join(':');
  if (verb === 'go') await page.goto(base + arg);
  else if (verb === 'shot') await page.screenshot({ path: arg });
  else if (verb === 'full') await page.screenshot({ path: arg, fullPage: true });
  else if (verb === 'js') console.log(JSON.stringify(await page.evaluate(arg)));
  else if (verb === 'pw') await eval(`(async () => { ${arg} })()`);
  else if (verb === 'wait') await page.waitForTimeout(+arg);
}
await b.close();
