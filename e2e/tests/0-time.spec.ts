import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/**
 * What is tried first, what is stopped and what ends when, before any other test moves the clock. What is changed here is taken back, but for two more hosts in
 * the demo's pilot and a sign-off.
 */

test('by keyboard only: some hosts try an update first, and the gate says what that can show', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/cases/LNT-2031');
  await expect(page.locator('.poprow', { hasText: 'Office desktops' })).toBeVisible();
  // Up to the first row, down to the desktops, then P.
  const rows = await page.locator('.poprow').allInnerTexts();
  for (const key of [
    ...rows.map(() => 'ArrowUp'),
    ...rows
      .slice(
        0,
        rows.findIndex((row) => row.includes('Office desktops')),
      )
      .map(() => 'ArrowDown'),
  ]) {
    await press(page, key);
  }
  await expect(page.locator('.poprow[aria-current=true]')).toContainText('Office desktops');
  await press(page, 'p');
  const sentence = page.getByRole('region', { name: 'The verdict' });
  const size = page.getByLabel('How many hosts try it');
  await expect(size).toBeFocused();
  await expect(size).toHaveValue('58');
  await expect(sentence).toContainText('58 clean hosts can show at best a failure rate of 5 %');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('12');
  await expect(sentence).toContainText('12 clean hosts can show at best a failure rate of 20.6 %; for 5 % take 58');
  await expect(sentence).toContainText('12 of 146 hosts offered now and try it first, the others wait until the end of');

  // A host that is left out is replaced, and stays out by the address.
  await page.getByRole('button', { name: '12 hosts', exact: true }).click();
  const drawn = page.getByRole('table', { name: 'Hosts that would try it' });
  const left = (await drawn.getByRole('row').first().getByRole('cell').first().textContent()) ?? '';
  await drawn.getByRole('button', { name: 'draw another' }).first().click();
  await expect(sentence).toContainText(`1 host not drawn: left out by you ${left}`);
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(new RegExp(`not=${left}`));
  await expect(page.getByRole('button', { name: /^Pilot on 12 hosts/ })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('Pilot on 12 hosts.')).toBeVisible();
  await expect(page.getByText(/piloted for Office desktops, to answer by/)).toBeVisible();

  // Its place shows the same hosts; the one that was left out waits like the others.
  await press(page, 'g', 'o');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Pilots');
  await page.getByRole('link', { name: 'Harbour browser 118.2' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Pilot of Harbour browser 118.2');
  await expect(page.getByText('12 more hosts without failure would meet it')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Hosts of the sample' }).getByRole('listitem')).toHaveCount(12);
  const reader = await Session.of(request, 'j.fenn');
  const holds = async (host: string) => (await reader.get(`/api/cases/LNT-2031/rulings/${host}`)).holds.effect;
  expect(await holds(left)).toBe('WITHHELD');
  const [pilot] = (await reader.get('/api/pilots')).filter((one: { update: string }) => one.update === 'LNT-2031');
  expect(await holds(pilot.hosts[0].host.name)).toBe('OFFERED');

  await page.getByRole('button', { name: 'Take it back …' }).click();
  await expect(page.getByText(/^Taken back: the pilot of LNT-2031/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Taken back' })).toBeVisible();
});

test('a pilot that runs is extended, and a department signs it off', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/pilots/2');
  await expect(page.getByText(/more hosts without failure would meet it, \d+ more than the sample still has/)).toBeVisible();
  await expect(page.getByRole('img', { name: /hosts have tried it, \d+ have answered, 1 of them failed/ })).toBeVisible();
  await press(page, 'x');
  const more = page.getByLabel('How many more hosts');
  await expect(more).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('2');
  await page.getByRole('button', { name: 'Extend by' }).click();
  await expect(page.getByText('2 more hosts may try it.')).toBeVisible();
  await page.getByRole('listitem').filter({ hasText: 'Ticketing' }).getByRole('button', { name: 'it has signed off' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Ticketing' })).toContainText('told by M. Aldane');
  const reader = await Session.of(request, 'j.fenn');
  const record = await reader.get('/api/record?subject=LNT-3051');
  expect(record.entries[0].sentence).toBe('Ticketing signed off the pilot of LNT-3051.');
  expect(record.entries[1].sentence).toMatch(/^Extended the pilot of LNT-3051 by 2 hosts: ksk-\d+, ksk-\d+\.$/);
});

test('two presses stop everything, on any place; taking it back says first what goes on', async ({ page, request }) => {
  await signIn(page, 'm.aldane', '/carriers');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Which hosts carry what');
  const reader = await Session.of(request, 'j.fenn');
  const holds = async () => (await reader.get('/api/cases/LNT-7000/rulings/ksk-020')).holds;
  const before = await holds();
  await press(page, '.');
  const stop = page.getByRole('button', { name: 'Stop everything on 640 hosts' });
  await expect(stop).toBeFocused();
  await expect(page.getByRole('dialog')).toContainText(/\d+ updates stopped: they are offered now/);
  await expect(page.getByRole('dialog')).toContainText('1 update downloaded already: this may not stop them');
  await expect(page.getByRole('dialog')).toContainText('It ends in 3 parts:');
  await expect(page.getByRole('dialog')).toContainText(/\d+ updates offered as it ends, in these parts/);
  await expect(stop).toBeEnabled();
  await press(page, 'Enter');
  await expect(page.getByText(/^Everything is frozen until .*, in 3 parts from .* on:/)).toBeVisible();
  expect((await holds()).clause).toBe('FREEZE');
  await page.goto('/in-force?kind=FREEZE');
  await expect(page.getByRole('table', { name: 'Decisions in force' })).toContainText('frozen: everything');
  await expect(page.getByRole('table', { name: 'Decisions in force' })).toContainText(
    /frozen from \w+ \d+ \w+ .*18:00: Gate controllers, Ticket kiosks, Crew tablets/,
  );
  await page.getByRole('status').getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByRole('dialog')).toContainText('would be offered to');
  await expect(page.getByRole('button', { name: 'Take it back', exact: true })).toBeFocused();
  await press(page, 'Enter');
  await expect(page.getByText(/^Everything is frozen until/)).toHaveCount(0);
  expect(await holds()).toEqual(before);
});

test('by keyboard only: what ends when, on a calendar', async ({ page }) => {
  await signIn(page, 'm.aldane', '/in-force');
  await expect(page.getByRole('table', { name: 'Decisions in force' })).toBeVisible();
  await press(page, 'c');
  const calendar = page.getByRole('table', { name: 'What ends when' });
  await expect(calendar.getByRole('rowheader')).toHaveCount(9);
  await expect(calendar.getByRole('button', { name: /^Ticket kiosks, .*: 1 decision/ }).first()).toBeVisible();
  // The bar begins on the first day on which something ends, or a rule does something by itself, and says what.
  const day = page.getByRole('region').or(page.locator('section[aria-live]'));
  await expect(day.getByRole('listitem').first()).toContainText(/by the rule: .* on \d+ hosts?|until .*, then/);
  await calendar
    .getByRole('button', { name: /^Yard servers, .* offered by the rule/ })
    .first()
    .click();
  await expect(day.getByRole('listitem').first().getByRole('link').first()).toHaveAttribute('href', /^\/cases\//);
  await press(page, 'ArrowUp', 'ArrowRight');
  await expect(page).toHaveURL(/cell=\d+(%2F|\/)\d+/);
  await calendar
    .getByRole('button', { name: /^Gate controllers, .*: 1 decision/ })
    .last()
    .click();
  await expect(page.getByText(/frozen from .*: Gate controllers, Ticket kiosks, Crew tablets/)).toBeVisible();
  await press(page, 'c');
  await expect(page.getByRole('table', { name: 'Decisions in force' })).toBeVisible();
});
