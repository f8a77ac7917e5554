import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

test('two open browsers agree at once, without asking from time to time', async ({ browser, request }) => {
  const analyst = await browser.newPage();
  const reader = await browser.newPage();
  for (const page of [analyst, reader]) {
    // Only what the server tells by itself can bring the change.
    await page.addInitScript(() => {
      window.setInterval = (() => 0) as unknown as typeof window.setInterval;
    });
  }
  await signIn(analyst);
  await signIn(reader, 'j.fenn');
  await reader.goto('/docket');
  const row = { name: /Fathom kernel/ };
  await expect(reader.getByRole('row', row)).toBeVisible();
  const session = await Session.of(request, 'm.aldane');
  const given = await session.post('/api/acknowledgements', { updates: ['FTM-0877'] });
  await expect(reader.getByRole('row', row)).toHaveCount(0);
  await expect(analyst.getByRole('row', row)).toHaveCount(0);
  expect(given.acknowledgements[0].update).toBe('FTM-0877');
  await analyst.close();
  await reader.close();
});

test('the second of two who word a verdict on one case is told before it is handed down', async ({ page, request }) => {
  // Without the stream of changes the page cannot have seen what the other one decides.
  await page.addInitScript(() => {
    window.EventSource = class extends EventTarget {
      close() {}
    } as unknown as typeof EventSource;
  });
  await signIn(page);
  await page.goto('/cases/FTM-0884?verdict=DEFER&for=bridge-consoles');
  const button = page.getByRole('button', { name: /^Defer on \d+ hosts$/ });
  await expect(button).toBeEnabled();
  const other = await Session.of(request, 'm.aldane');
  await other.post('/api/acknowledgements', { updates: ['FTM-0884'] });
  await press(page, 'Control+Enter');
  await expect(page.getByRole('alert')).toContainText('Not done: FTM-0884 has changed since you saw it');
  // What is in force now has been read; the same sentence may be handed down knowingly.
  await expect(button).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/deferred for Bridge consoles/)).toBeVisible();
});

test('while the server is away what is on screen stays, and a verdict can be tried again', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/FTM-0884?verdict=DEFER&for=bridge-consoles');
  const button = page.getByRole('button', { name: /^Defer on \d+ hosts$/ });
  await expect(button).toBeEnabled();
  await page.route('**/api/**', (route) => route.abort('connectionrefused'));
  await press(page, 'Control+Enter');
  await expect(page.getByText('the server cannot be reached', { exact: true })).toBeVisible();
  await expect(page.getByText(/The server cannot be reached. What stands here was read at/)).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.unroute('**/api/**');
  await page.getByRole('button', { name: 'Try now' }).click();
  await expect(page.getByText(/What stands here was read at/)).toHaveCount(0);
  await expect(button).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/takes it back/)).toBeVisible();
  await press(page, 'u');
  await expect(page.getByText(/Taken back: Defer on/)).toBeVisible();
});

test('the service desk and an operator see who carries what, and nothing else', async ({ page }) => {
  await signIn(page, 's.orrin', '/docket');
  await expect(page).toHaveURL(/carriers/);
  await expect(page.getByRole('navigation', { name: 'Places' })).toHaveText(/^CarriersPopulationsHosts$/);
  await expect(page.getByRole('columnheader', { name: 'Ticket kiosks' })).toBeVisible();
  await page.getByRole('button', { name: /S\. Orrin/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await signIn(page, 'b.tove', '/docket');
  await expect(page).toHaveURL(/by-operator/);
  await expect(page.getByRole('navigation', { name: 'Places' })).toHaveText(/^To install \d+CarriersPopulationsHosts$/);
  await page.goto('/carriers');
  await expect(page.getByRole('columnheader', { name: 'Booking databases' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Ticket kiosks' })).toHaveCount(0);
});

test('an administrator checks the record, takes a backup and allows a host', async ({ page }) => {
  await signIn(page, 'k.strand', '/access');
  await page.goto('/access');
  await page.getByRole('button', { name: 'Check the record' }).click();
  await expect(page.getByRole('status')).toContainText('The record is whole');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take a backup' }).click();
  expect((await download).suggestedFilename()).toBe('lucid-backup.zip');
  await page.getByLabel('Host to allow').fill('mirror.example');
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByRole('row', { name: /mirror\.example/ })).toBeVisible();
});
