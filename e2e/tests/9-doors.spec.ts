import { createHmac } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { expect, type Locator, type Page, test } from '@playwright/test';
import { PASSWORD, press, Session, signIn } from './product';

/** What the browser refuses to load or do, and faults in drawing. */
function complaints(page: Page): string[] {
  const heard: string[] = [];
  page.on('console', (message) => message.type() === 'error' && heard.push(message.text()));
  page.on('pageerror', (error) => heard.push(String(error)));
  return heard;
}

/** The six digits of a key in Base32 at an instant (RFC 6238). */
function codeOf(key: string, at: number): string {
  const bits = [...key].map((sign) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(sign).toString(2).padStart(5, '0')).join('');
  const bytes = Buffer.from(bits.match(/.{8}/g)?.map((byte) => Number.parseInt(byte, 2)) ?? []);
  const step = Buffer.alloc(8);
  step.writeBigUInt64BE(BigInt(Math.floor(at / 30_000)));
  const hash = createHmac('sha1', bytes).update(step).digest();
  const offset = (hash[19] ?? 0) & 15;
  return String((hash.readUInt32BE(offset) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

const notice = (id: string) =>
  JSON.stringify({
    format: 'update-notice-1',
    id,
    title: `Odd ${id}`,
    revision: '1',
    published: new Date(Date.now() - 3_600_000).toISOString(),
    kind: 'bugfix',
    fixes: [{ product: 'pkg:generic/lantern-desktop', affected: [{ fixed: '6.0.9999' }] }],
  });

test('an update of any spelling is found, opened from the docket and by its address, and breaks no page', async ({ page }, info) => {
  const heard = complaints(page);
  await signIn(page);
  await page.goto('/intake');
  const ids = ['ODD/1', 'ODD;2', 'ODD%3', 'ODD\\4', 'ODD?5#6', '<i>ODD</i> 7', 'ODD %2F 8', 'ODD Ω 港'];
  for (const [index, id] of ids.entries()) {
    writeFileSync(info.outputPath(`odd-${index}.json`), notice(id));
  }
  await page.setInputFiles(
    'input[type=file]',
    ids.map((_, index) => info.outputPath(`odd-${index}.json`)),
  );
  await expect(page.getByRole('link', { name: 'ODD Ω 港' })).toBeVisible();
  for (const id of ids) {
    await page.goto(`/cases/${encodeURIComponent(id)}`);
    await expect(page.getByRole('heading', { level: 1 })).toContainText(`Odd ${id}`);
    await page.reload();
    await expect(page.getByRole('heading', { level: 1 })).toContainText(`Odd ${id}`);
    await page.goto(`/carriers/${encodeURIComponent(id)}`);
    await expect(page.getByRole('table', { name: 'States by population' })).toBeVisible();
  }
  await page.goto('/record');
  await expect(page.locator('.entry').first()).toBeVisible();
  await page.goto('/docket?show=OPEN');
  await expect(page.locator('.strip').first()).toBeVisible();
  await page.goto('/hosts?show=ALL&has=%25');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  expect(heard.filter((words) => !words.includes('Failed to load resource'))).toEqual([]);
});

test('no style or script is refused anywhere: styles bear the number of their page', async ({ page }) => {
  const heard = complaints(page);
  await signIn(page, 'k.strand');
  const places: [path: string, content: Locator][] = [
    ['/docket', page.locator('.strip').first()],
    ['/cases/LNT-1107?weigh=ticket-kiosks', page.locator('.poprow').first()],
    ['/carriers', page.locator('tbody tr').first()],
    ['/populations', page.getByText('Ticket kiosks').first()],
    ['/hosts', page.locator('tbody tr').first()],
    ['/intake', page.locator('tbody tr').first()],
    ['/record', page.locator('.entry').first()],
    ['/weights', page.getByRole('textbox').first()],
    ['/access', page.getByText('k.strand').first()],
    ['/account', page.getByRole('button', { name: 'Set up a second factor' })],
  ];
  for (const [path, content] of places) {
    await page.goto(path);
    await expect(content).toBeVisible();
  }
  await page.getByRole('button', { name: 'Set up a second factor' }).click();
  await expect(page.getByLabel('The six digits')).toBeVisible();
  expect(heard).toEqual([]);
  const policy = (await page.request.get('/docket')).headers()['content-security-policy'] ?? '';
  expect(policy).not.toContain('unsafe');
});

test('populations that come in wait, are seen with what they change, and are saved by keyboard', async ({ page, request }, info) => {
  const analyst = await Session.of(request, 'm.aldane');
  const present = await analyst.get('/api/populations/document');
  const next = structuredClone(present);
  next.populations.find((p: { id: string }) => p.id === 'proving-bench').owner = 'R. Holm';
  writeFileSync(info.outputPath('populations.json'), JSON.stringify(next));
  await signIn(page);
  await page.goto('/intake');
  await page.setInputFiles('input[type=file]', info.outputPath('populations.json'));
  const row = page.getByRole('row', { name: /waits for somebody to see on Populations/ });
  await expect(row).toBeVisible();
  expect((await analyst.get('/api/populations')).populations[0].owner).not.toBe('R. Holm');
  await row.getByRole('link', { name: 'See what it changes' }).focus();
  await press(page, 'Enter');
  await expect(page.getByText(/on Intake proposes it/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save: no host moves' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('The populations are saved; no host moved.')).toBeVisible();
  expect((await analyst.get('/api/populations')).populations[0].owner).toBe('R. Holm');
  await page.goto('/intake');
  await expect(page.getByText(', saved since')).toBeVisible();
});

test('what is refused can be put aside', async ({ page }, info) => {
  writeFileSync(info.outputPath('aside.json'), 'no document');
  await signIn(page);
  await page.goto('/intake?outcome=REJECTED');
  await page.setInputFiles('input[type=file]', info.outputPath('aside.json'));
  const row = page.getByRole('row', { name: /aside.json/ });
  await row.getByRole('button', { name: 'Put aside' }).click();
  await page.getByLabel('Why it is put aside').fill('sent by mistake');
  await page.getByRole('tooltip').getByRole('button', { name: 'Put aside' }).click();
  await expect(row).toHaveCount(0);
  await page.goto('/intake');
  await expect(page.getByRole('row', { name: /aside.json/ })).toContainText('put aside by M. Aldane');
  await page.goto('/record');
  await expect(page.getByText(/aside\.json, because sent by mistake\./)).toBeVisible();
});

test('a second factor is set up, asked for and given up, by keyboard', async ({ page }) => {
  await signIn(page, 'h.marsh');
  await page.goto('/account');
  await page.getByRole('button', { name: 'Set up a second factor' }).focus();
  await press(page, 'Enter');
  const digits = page.getByLabel('The six digits');
  await expect(digits).toBeFocused();
  const key = (await page.locator('code').innerText()).replace(/\s/g, '');
  const clock = async () => new Date((await (await page.request.get('/api/clock')).json()).now).getTime();
  await page.keyboard.type(codeOf(key, await clock()));
  await press(page, 'Enter');
  await expect(page.getByText(/It is set up/)).toBeVisible();
  const now = await clock();
  await page.request.delete('/api/sessions/current', {
    headers: { 'X-XSRF-TOKEN': (await page.context().cookies()).find((cookie) => cookie.name === 'XSRF-TOKEN')?.value ?? '' },
  });
  await page.goto('/account');
  await page.getByLabel('Name').fill('h.marsh');
  await page.getByLabel('Password').fill(PASSWORD);
  await press(page, 'Enter');
  await expect(page.getByLabel('The six digits that your authenticator shows')).toBeFocused();
  // The code by which it was set up is used; the next one counts already.
  await page.keyboard.type(codeOf(key, now + 30_000));
  await press(page, 'Enter');
  await expect(page.getByText(/It is set up/)).toBeVisible();
  await page.getByLabel('Your password', { exact: true }).fill(PASSWORD);
  await press(page, 'Enter');
  await expect(page.getByRole('button', { name: 'Set up a second factor' })).toBeVisible();
});

test('another session of mine is seen and ended, and its page asks to sign in', async ({ page, browser, baseURL }) => {
  await signIn(page, 'j.fenn');
  const other = await browser.newPage({ baseURL });
  await signIn(other, 'j.fenn');
  await page.goto('/account');
  await page.getByRole('button', { name: 'End all others' }).click();
  await expect(page.getByRole('row')).toHaveCount(2);
  await other.goto('/docket');
  await expect(other.getByLabel('Name')).toBeVisible();
  await other.close();
});
