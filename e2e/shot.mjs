import { chromium } from '@playwright/test';
const [,, who, ...steps] = process.argv;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: process.env.BASE ?? 'http://127.0.0.1:8050' });
page.on('console', m => { if (['error','warning'].includes(m.type())) console.log('console', m.type(), m.text().slice(0,300)); });
page.on('pageerror', e => console.log('pageerror', String(e).slice(0,300)));
await page.goto('/docket');
await page.getByLabel('Name').fill(who); await page.getByLabel('Password').fill('skerry-line'); await page.getByRole('button', {name:'Sign in'}).click();
await page.waitForTimeout(2500);
for (const step of steps) {
  const [path, out] = step.split('=>');
  if (path.startsWith('js:')) { await (new Function('page', 'return (async()=>{' + path.slice(3) + '})()'))(page); }
  else { await page.goto(path); }
  await page.waitForTimeout(2500);
  if (out) await page.screenshot({ path: '/tmp/shots/' + out + '.png' });
}
await browser.close();
