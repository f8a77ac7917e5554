import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** What moves the clock comes last: its hosts do what they are told, and little is as it was. */
test('hosts install what is forced as the demo goes on, and it stops where it is told to', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  const due = new Date(new Date(now).getTime() + 3 * 86_400_000).toISOString().slice(0, 10);
  await analyst.post('/api/verdicts', {
    update: 'LNT-7000',
    revision: '1',
    type: 'FORCE',
    populations: ['office-desktops'],
    where: 'name in (off-020, off-021, off-022, off-023, off-026)',
    until: due,
    reasons: ['UNTESTED'],
    words: 'a few desks try the new release',
  });
  const state = async (host: string) => {
    const { updates } = await analyst.get(`/api/hosts/${host}/updates`);
    return updates.find((update: { id: string }) => update.id === 'LNT-7000').state;
  };
  expect(await state('off-020')).toBe('MISSING');

  await signIn(page, 'm.aldane', '/hosts');
  await page.getByRole('button', { name: 'Advance' }).click();
  await page.getByText('by a week').click();
  await expect(page.getByRole('progressbar', { name: /The demo goes on to/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Advance' })).toBeVisible({ timeout: 200_000 });
  const states = await Promise.all(['off-020', 'off-021', 'off-022', 'off-023', 'off-026'].map(state));
  expect(states.filter((one) => one === 'CARRIES').length, states.join()).toBeGreaterThanOrEqual(3);

  const before = new Date((await analyst.get('/api/clock')).now).getTime();
  await page.getByRole('button', { name: 'Advance' }).click();
  await page.getByText('by a week').click();
  await page.getByRole('button', { name: 'Stop here' }).click();
  await expect(page.getByRole('button', { name: 'Advance' })).toBeVisible();
  const after = new Date((await analyst.get('/api/clock')).now).getTime();
  expect(after - before).toBeLessThan(6 * 86_400_000);
});

test('an exception is made by keyboard and lapses when the clock passes its end', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/cases/CST-0091');
  await expect(page.getByText('Booking databases').first()).toBeVisible();
  await press(page, 'e');
  await expect(page.getByLabel('Hosts where')).toBeFocused();
  await page.keyboard.type('name = bdb-06');
  await press(page, 'Escape', 'e');
  await expect(page.getByLabel('Hosts where')).toBeFocused();
  await expect(page.getByLabel('Hosts where')).toHaveValue('');
  await page.keyboard.type('name = bdb-06');
  await press(page, 'Tab', 'Tab', 'Tab');
  await expect(page.getByLabel('Until the end of')).toBeFocused();
  await press(page, 'Tab');
  await expect(page.getByLabel('What ends it before that')).toBeFocused();
  await press(page, 'Tab');
  await page.keyboard.type('settlement run');
  await press(page, 'Tab');
  await page.keyboard.type('D. Orrin');
  await expect(page.getByRole('button', { name: 'Except 1 host' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/exception no\. \d+ on CST-0091 where name = bdb-06 until/)).toBeVisible();

  const analyst = await Session.of(request, 'm.aldane');
  const holds = async () => (await analyst.get('/api/cases/CST-0091/rulings/bdb-06')).holds.clause;
  expect(await holds()).toBe('EXCEPTION');
  await analyst.advance(24 * 29);
  expect(await holds()).toBe('STANDING_RULE');
  await page.reload();
  await expect(page.getByText(/where name = bdb-06 until .*lapsed/)).toBeVisible();
  // The hosts of the demo go on reporting: nobody has become unknown through the time that passed.
  await expect.poll(async () => (await analyst.get('/api/carriers')).unknownHosts, { timeout: 20_000 }).toBeLessThan(60);
});
