import { expect, test } from '@playwright/test';
import { press, signIn } from './product';

test('what is in force stands in one place, what ends first in front, and opens its case', async ({ page }) => {
  await signIn(page, 'm.aldane', '/in-force');
  const rows = page.getByRole('table', { name: 'Decisions in force' }).locator('tbody tr');
  await expect(rows.first()).toHaveAttribute('aria-current', 'true');
  await expect(rows.filter({ hasText: 'blocked for Office desktops' })).toContainText('needs a verdict: it stays at its release');
  const all = await rows.count();
  await page.getByLabel('Search in force').fill('LNT-3042');
  await expect(rows).toHaveCount(1);
  expect(all).toBeGreaterThan(5);
  await page.getByLabel('Search in force').blur();
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Card reader agent 4.2');
});

test('taking back says first what it would release, and can be left', async ({ page }) => {
  await signIn(page, 'm.aldane', '/cases/LNT-3042');
  await expect(page.getByText(/blocked for Ticket kiosks, until/)).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).last().click();
  const asked = page.getByRole('dialog');
  await expect(asked).toContainText(/LNT-3042 would be offered to \d+ hosts/);
  await asked.getByRole('button', { name: 'Keep it' }).click();
  await expect(asked).toHaveCount(0);
  await expect(page.locator('.poprow', { hasText: 'Ticket kiosks' })).toContainText('blocked until');
});

test('hosts in no population are judged, and the case stays open for the others', async ({ page }) => {
  await signIn(page, 'm.aldane', '/cases/LNT-2031');
  const unassigned = page.locator('.poprow', { hasText: 'In no population' });
  await unassigned.getByText('In no population').click();
  await press(page, 'f');
  await expect(page.getByRole('button', { name: /^Force on \d+ hosts?$/ })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(unassigned).toContainText('forced, due');
  await expect(unassigned).not.toContainText('to judge');
  await page.goto('/docket');
  await expect(page.getByRole('row', { name: /Harbour browser 118.2/ }).locator('.why')).toContainText('Still open: ');
  await page.goto('/cases/LNT-2031');
  await expect(page.getByText(/forced for In no population/)).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).last().click();
  await expect(unassigned).toContainText('to judge');
});
