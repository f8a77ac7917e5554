import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { run, Session, signIn } from './product';

test('a stranger\'s advisory leads in four actions from "products not read" to the hosts that lack it', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/docket?at=HLY-2026-014');
  const strip = page.getByRole('row', { name: /HLY-2026-014/ });
  await expect(strip).toContainText('6 products of it could not be read: nobody knows whether hosts here are affected.');
  await expect(strip).toContainText('products not read: nothing can be weighed');
  await page.goto('/cases/HLY-2026-014');
  await expect(page.getByText('Nobody knows which hosts this update is for.')).toBeVisible();
  await expect(page.getByText('not applicable')).toHaveCount(0);
  // One: to where it can be said. Two: what hosts report under that name. Three: use it. Four: back to the case.
  await page.getByRole('link', { name: 'Say what they are' }).click();
  await page.getByRole('button', { name: 'pkg:generic/harbour-browser' }).click();
  await expect(page.getByLabel('What is read by it')).toContainText('453 hosts lack it');
  await page.getByRole('button', { name: 'Use it for 1 advisory' }).click();
  await page.getByRole('link', { name: 'HLY-2026-014' }).first().click();
  await expect(page.getByRole('heading', { name: '5 products not read' })).toBeVisible();
  await expect(page.locator('.poprow').filter({ hasText: 'Office desktops' })).toBeVisible();
  const analyst = await Session.of(request, 'm.aldane');
  const carriers = await analyst.get('/api/carriers/HLY-2026-014');
  expect(carriers.row.fleet.missing).toBeGreaterThan(400);

  // The rest is on no host: with one pattern the cue goes.
  await page.goto('/intake?vendor=Halyard%20Works');
  await page.getByLabel('Name, * for any text').fill('Harbour *');
  await page.getByRole('button', { name: 'No host here has it' }).click();
  await expect(page.getByText('None: every product of every advisory could be read.')).toBeVisible();
  await page.goto('/cases/HLY-2026-014');
  await expect(page.locator('.poprow').first()).toBeVisible();
  await expect(page.getByText('not read')).toHaveCount(0);
});

test('what a document says is explained in words by the program itself', async ({ page }, info) => {
  const file = info.outputPath('stranger.json');
  await signIn(page);
  const documents = (await (await page.request.get('/api/documents')).json()).documents;
  const number = documents.find((one: { name: string }) => one.name === 'hly-2026-014.json')?.number;
  writeFileSync(file, await (await page.request.get(`/api/documents/${number}/content`)).body());
  const line = JSON.parse(run('../lucid', 'check', file));
  expect(line).toMatchObject({ accepted: true, productsRead: 0, productsNotRead: 6 });
  const words = run('../lucid', 'check', '--explain', file);
  expect(words).toContain('Not read: Harbour Browser, because it has no package URL');
  expect(words).toContain('No product was read: which hosts lack it cannot be told by it.');
});
