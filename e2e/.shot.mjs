import { chromium } from '@playwright/test';
const [who, ...shots] = process.argv.slice(2);
const base = process.env.BASE ?? 'http://127.0.0.1:8050';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const [w,h] = (process.env.SIZE ?? '1280x800').split('x').map(Number);
const page = await browser.newPage({ viewport: { width: w, height: h }, colorScheme: process.env.DARK ? 'dark':'light' });
page.on('console', m => m.type()==='error' && console.log('console', m.text()));
await page.goto(base + '/');
await page.getByLabel('Name', { exact: false }).first().fill(who);
await page.locator('input[type=password]').fill('skerry-line');
await page.keyboard.press('Enter');
await page.locator('#legend, main').first().waitFor();
await page.waitForTimeout(1500);
for (const s of shots) {
  const [path, name, keys] = s.split('=>');
  await page.goto(base + path);
  await page.waitForLoadState('networkidle').catch(()=>{});
  await page.waitForTimeout(1200);
  for (const k of (keys ?? '').split(' ').filter(Boolean)) { if (k.startsWith('type:')) await page.keyboard.type(k.slice(5).replaceAll('_',' ')); else await page.keyboard.press(k); await page.waitForTimeout(500); }
  await page.screenshot({ path: `/tmp/shots/${name}.png` });
}
await browser.close();
