import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

test('a desk report: paste names, say what, done; the hosts count as failed and one can be dismissed', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/TRN-2236');
  await expect(page.getByRole('heading', { name: /Installs tried here/ })).toBeVisible();
  await press(page, 't');
  const names = page.getByLabel(/Hosts of ours that failed/);
  await expect(names).toBeFocused();
  await page.keyboard.type('YARD-01; yard-02.fell.example nobody-1');
  await press(page, 'Tab');
  await page.keyboard.type('loses its network');
  await press(page, 'Control+Enter');
  await expect(page.getByText('Told of 2 hosts that failed with TRN-2236. Not known here and left out: nobody-1.')).toBeVisible();
  await expect(page.getByText(/2 of \d+ hosts failed/)).toBeVisible();
  await page.getByRole('button', { name: 'Not by this update' }).click();
  await page.getByLabel(/was not by TRN-2236/).fill('a cable was unplugged');
  await press(page, 'Control+Enter');
  await expect(page.getByText(/yard-0[12]: not by this update, a cable was unplugged/)).toBeVisible();
  await expect(page.getByText(/1 of \d+ hosts? failed/)).toBeVisible();
});

test('a note takes exposure away; a wrong condition is refused where it is typed', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/FTM-0877');
  await page.getByRole('button', { name: 'Note hosts that are not affected' }).click();
  await page.getByLabel(/does not affect hosts where/).fill('role =');
  await page.getByLabel('because').fill('not reachable there');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('alert')).toContainText('Not taken');
  await page.getByLabel(/does not affect hosts where/).fill('role = bridge');
  await press(page, 'Control+Enter');
  await expect(page.getByText(/where role = bridge: not reachable there/)).toBeVisible();
  await press(page, 'ArrowRight');
  const bridge = page.locator('.poprow', { hasText: 'Bridge consoles' });
  await expect(bridge.getByRole('img', { name: /waiting 0;/ })).toBeVisible();
});

test('a case is given to somebody by keyboard, asks for them on its day, and is done', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const today = (await analyst.get('/api/clock')).now.slice(0, 10);
  await signIn(page);
  await page.goto('/cases/TRN-2236');
  await expect(page.getByRole('heading', { name: 'Why now' })).toBeVisible();
  await press(page, 'm');
  await expect(page.getByLabel(/For whoever looks at TRN-2236 next/)).toBeFocused();
  await page.keyboard.type('ask Tarn for the log');
  await press(page, 'Tab', 'ArrowDown');
  const offered = page.locator('.ant-select-item-option-active');
  await expect(offered).toBeVisible();
  while (!(await offered.textContent())?.startsWith('M. Aldane')) {
    await press(page, 'ArrowDown');
  }
  await press(page, 'Enter');
  await page.getByRole('button', { name: 'Look at it again on a day' }).press('Enter');
  await page.getByLabel('Looked at again on').fill(today);
  await press(page, 'Control+Enter');
  await expect(page.getByText(/Seen to by M. Aldane, looked at again/)).toBeVisible();
  await expect(page.getByText(/To be looked at again since today: ask Tarn for the log\./)).toBeVisible();
  await page.goto('/docket?assignee=M.%20Aldane');
  await expect(page.locator('tr.strip', { hasText: 'TRN-2236' })).toContainText('for M. Aldane');
  await page.goto('/digest');
  await expect(page.getByText(/You see to TRN-2236, looked at again .*: ask Tarn for the log/)).toBeVisible();
  await page.goto('/cases/TRN-2236');
  await page.getByRole('button', { name: 'Done', exact: true }).press('Enter');
  await expect(page.getByText(/To be looked at again/)).toHaveCount(0);
});

test('other weights are seen on the docket before they are saved', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/weights');
  await page.getByLabel('tier 1').fill('40');
  await expect(page.getByText(/Changes tier 1 from 8.0 to 40.0/)).toBeVisible();
  await expect(page.getByRole('table', { name: 'Cases that would change' })).toContainText('→');
  const analyst = await Session.of(request, 'm.aldane');
  expect((await analyst.get('/api/weights')).weights.tiers[0]).toBe(8);
  await press(page, 'Control+Enter');
  await expect(page.getByText(/Last changed .* by M. Aldane/)).toBeVisible();
  expect((await analyst.get('/api/weights')).weights.tiers[0]).toBe(40);
  await page.goto('/record');
  await expect(page.getByText('Weights: tier 1 from 8.0 to 40.0.')).toBeVisible();
});
