import { Spec, Validation } from '@cyclonedx/cyclonedx-library';
import { expect, test } from '@playwright/test';
// @ts-expect-error the library brings no types for its parts
import * as mandatoryTests from '@secvisogram/csaf-validator-lib/mandatoryTests.js';
// @ts-expect-error as above
import { csaf_2_0 } from '@secvisogram/csaf-validator-lib/schemaTests.js';
// @ts-expect-error as above
import validate from '@secvisogram/csaf-validator-lib/validate.js';
import { press, Session, signIn } from './product';

interface Result {
  isValid: boolean;
  tests: { name: string; errors: unknown[] }[];
}

test('what leaves the house is read by libraries that others wrote: statements and inventories', async ({ request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { hosts } = await analyst.get('/api/carriers/FTM-0869/hosts?state=MISSING');
  const [one, two] = hosts.map((host: { name: string }) => host.name);
  await analyst.post('/api/not-affected-notes', {
    update: 'FTM-0869',
    where: `name in (${one}, ${two})`,
    reason: 'These hosts open no connection to others.',
  });
  const csaf = await analyst.get('/api/cases/FTM-0869/csaf-vex');
  const result: Result = await validate([csaf_2_0, ...Object.values(mandatoryTests)], csaf);
  expect(result.tests.filter((one) => one.errors.length > 0)).toEqual([]);
  expect(result.isValid).toBe(true);
  expect(csaf.vulnerabilities[0].product_status.known_not_affected).toHaveLength(2);
  // The same validator refuses what breaks a rule, so that its silence says something.
  const broken: Result = await validate([csaf_2_0, ...Object.values(mandatoryTests)], { ...csaf, product_tree: {} });
  expect(broken.isValid).toBe(false);

  const openVex = await analyst.get('/api/cases/FTM-0869/openvex');
  expect(openVex.statements[0].status).toBe('not_affected');
  expect(openVex.statements[0].products).toHaveLength(2);

  const inventory = await analyst.get(`/api/hosts/${one}/cyclonedx`);
  const schema = new Validation.JsonStrictValidator(Spec.Version.v1dot6);
  expect(await schema.validate(JSON.stringify(inventory))).toBeNull();
  expect(await schema.validate(JSON.stringify({ ...inventory, version: 'first' }))).not.toBeNull();
  const product = inventory.components.find((component: { purl?: string }) => component.purl !== undefined);
  const { products } = await analyst.get(`/api/hosts/${one}`);
  expect(products.length).toBe(inventory.components.length - 1);
  expect(product.purl).toContain(`@${encodeURIComponent(product.version).replaceAll('%3A', ':')}`);
});

test('the matrix is narrowed, turned over and taken back through the days by keyboard, and handed over as a file', async ({ page }) => {
  await signIn(page, 'm.aldane');
  await press(page, 'g', 'c');
  await expect(page.getByRole('heading', { name: 'Which hosts carry what' })).toBeVisible();
  const rows = page.locator('table.matrix tbody tr');
  await expect(rows.first()).toBeVisible();
  await press(page, 'f');
  await expect(page.locator('table.matrix')).toContainText('withheld');
  await page.getByRole('button', { name: /high$/ }).press('Enter');
  await expect(page).toHaveURL(/rating=HIGH/);
  await expect(rows.first()).toContainText('High');
  await page.locator('body').press('x');
  await expect(page).not.toHaveURL(/rating/);
  await press(page, '[', '[', '[');
  await expect(page.getByRole('heading', { name: 'Which hosts carried what' })).toBeVisible();
  await expect(page.getByText(/^As known at the end of/)).toBeVisible();
  const then = await page.getByRole('slider', { name: 'As known at the end of' }).inputValue();
  expect(Number(then)).toBeGreaterThan(0);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'JSON', exact: true }).press('Enter')]);
  expect(file.suggestedFilename()).toBe('carriers.json');
  await rows.first().getByRole('link').first().press('Enter');
  await expect(page.getByRole('heading', { name: /^Who carried / })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Which hosts carried what' })).toBeVisible();
});

test('the digest says what asks for somebody, and each face of the report tells its part', async ({ page }) => {
  await signIn(page, 'm.aldane');
  await press(page, 'g', 'm');
  await expect(page.getByRole('heading', { name: 'Digest' })).toBeVisible();
  await expect(page.getByRole('heading', { name: /^To judge: / })).toBeVisible();
  await press(page, 'g', 't');
  await expect(page.getByRole('heading', { name: 'How long hosts wait' })).toBeVisible();
  await expect(page.getByRole('table', { name: /^Days until half/ })).toContainText('Critical');
  await page.getByRole('link', { name: 'Known exploited' }).press('Enter');
  await expect(page.getByText('CVE-2026-9520430')).toBeVisible();
  await page.getByRole('link', { name: 'Withheld, and why' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'By who answers for it' })).toBeVisible();
  await expect(page.getByText(/^block of (LNT|FTM)-\d+ for /).first()).toBeVisible();
  await page.getByRole('link', { name: 'Forced, and how it went' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Forced, and how it went' })).toBeVisible();
});

test('a verdict is one page: what was known, what was foreseen, and what then happened', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  const { update } = await analyst.get('/api/cases/LNT-2076');
  const until = new Date(new Date(now).getTime() + 6 * 86_400_000).toISOString().slice(0, 10);
  const made = await analyst.post('/api/verdicts', {
    update: 'LNT-2076',
    revision: update.revision,
    type: 'DEFER',
    populations: ['office-desktops'],
    until,
    reasons: ['UNTESTED'],
    words: 'the address book is in use all week',
  });
  const { number } = made.verdicts[0];
  await signIn(page, 'm.aldane', '/cases/LNT-2076');
  await page.locator(`a[href$="/cases/LNT-2076/verdicts/${number}"]`).press('Enter');
  await expect(page).toHaveURL(new RegExp(`/verdicts/${number}$`));
  await expect(page.getByText(/^Defer LNT-2076 for Office desktops until .*the address book is in use all week\.$/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'As the case stood' })).toBeVisible();
  await expect(page.getByText(/had tried it/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'As it was foreseen' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'What then happened' })).toBeVisible();
  await expect(page.getByText('M. Aldane (m.aldane): Deferred LNT-2076', { exact: false }).first()).toBeVisible();
  // On paper the places and keys are left out.
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
  await analyst.post('/api/case-notes', { update: 'LNT-2076', words: 'told on a sheet' });
  await page.goto('/record?text=address%20book%20is%20in%20use');
  await expect(page.getByText('the address book is in use all week', { exact: false }).first()).toBeVisible();
  await press(page, 'c');
  await expect(page.getByRole('heading', { name: 'LNT-2076' })).toBeVisible();
});

test('mails are asked for and refused in words', async ({ page }) => {
  await signIn(page, 'k.strand', '/access');
  await page.getByLabel('Mail server', { exact: true }).fill('127.0.0.1');
  await page.getByLabel('Mails come from').fill('nobody');
  await page.getByRole('button', { name: 'Use this server' }).press('Enter');
  await expect(page.getByText('Not kept: write one mail address', { exact: false })).toBeVisible();
  await page.getByLabel('Mails come from').fill('lucid@example.org');
  await page.getByLabel('Port', { exact: true }).fill('9');
  await page.getByRole('button', { name: 'Use this server' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Send no mails' })).toBeVisible();
  await page.getByLabel('Send a mail to').fill('k.strand@example.org');
  await page.getByRole('button', { name: 'Try it' }).press('Enter');
  await expect(page.getByText('It was not sent: ', { exact: false })).toBeVisible();
  await page.goto('/account');
  await page.getByLabel('Your mail address').fill('k.strand@example.org');
  await page.getByRole('button', { name: 'Send it to me' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Stop it' })).toBeVisible();
  await page.getByRole('button', { name: 'Stop it' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Send it to me' })).toBeVisible();
  await page.goto('/access');
  await page.getByRole('button', { name: 'Send no mails' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Send no mails' })).toBeHidden();
});
