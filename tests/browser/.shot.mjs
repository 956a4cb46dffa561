import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
const [,, base, role, ...steps] = process.argv;
const lines = readFileSync(process.env.SIGNINS ?? '/work/main/var/demo/sign-ins.txt','utf8').trim().split('\n').map(l=>l.trim().split(/\s+/));
const [, name, password] = lines.find(l => l[0] === role);
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-background-networking','--disable-component-update'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, baseURL: base, locale: 'en-GB' });
p.on('console', m => { if (m.type()==='error') console.log('console:', m.text()); });
await p.goto('/sign-in'); await p.getByLabel('Name').fill(name); await p.getByLabel('Password').fill(password); await p.getByRole('button',{name:'Sign in'}).click(); await p.waitForLoadState();
for (const s of steps) {
  const i = s.indexOf(':'); const [op, arg] = [s.slice(0,i), s.slice(i+1)];
  if (op==='go') await p.goto(arg);
  else if (op==='shot') await p.screenshot({ path: `/tmp/shots/${arg}.png` });
  else if (op==='full') await p.screenshot({ path: `/tmp/shots/${arg}.png`, fullPage: true });
  else if (op==='eval') console.log(await p.evaluate(arg));
  else if (op==='js') await (new Function('p', `return (async()=>{${arg}})()`))(p);
}
await b.close();
