import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

const DAY = 86_400_000;
/** Before the update was released; the demo plays the ninety days before today. */
const EARLIER = new Date(Date.now() - 40 * DAY).toISOString().slice(0, 10);

test('what ends this week is worked through by keyboard: one is renewed, one ended, one lapses and its host hears of it', async ({
  page,
  request,
}) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  const inDays = (days: number) => new Date(new Date(now).getTime() + days * DAY).toISOString().slice(0, 10);
  const hosts = ['off-060', 'off-061', 'off-062'];
  for (const host of hosts) {
    await analyst.post('/api/exceptions', {
      update: 'LNT-2080',
      scope: 'UPDATE',
      hosts: `name = ${host}`,
      until: inDays(2),
      reason: 'presentation machines',
      owner: 'W. Hale',
      measure: '',
    });
  }
  const holds = async (host: string) => (await analyst.get(`/api/cases/LNT-2080/rulings/${host}`)).holds.clause;
  expect(await Promise.all(hosts.map(holds))).toEqual(['EXCEPTION', 'EXCEPTION', 'EXCEPTION']);

  await signIn(page, 'm.aldane');
  await press(page, 'g', 'e');
  await expect(page.getByRole('heading', { name: 'Exceptions' })).toBeVisible();
  const search = page.getByLabel('Search exceptions');
  await press(page, '/');
  await expect(search).toBeFocused();
  await page.keyboard.type('off-06');
  const rows = page.getByRole('table', { name: 'Exceptions' }).locator('tbody tr');
  await expect(rows).toHaveCount(3);
  await expect(rows.first()).toContainText('1 host: offered by the standing rule');
  await search.blur();

  await press(page, 'r');
  await expect(page.getByLabel('Why they go on')).toBeFocused();
  await page.keyboard.type('the fair lasts longer');
  await press(page, 'Control+Enter');
  await expect(page.getByText('1 exception renewed.')).toBeVisible();
  await expect(rows.filter({ hasText: 'off-060' })).toContainText('renewed once');

  // What ends first stands in front: the renewed one is behind the others now.
  await expect(rows.first()).toContainText('off-061');
  await press(page, 'ArrowUp', 'ArrowUp', 'ArrowUp', 'x');
  await page.getByRole('button', { name: 'Take it back' }).press('Enter');
  await expect(rows.filter({ hasText: 'off-061' })).toContainText('taken back');
  expect(await holds('off-061')).toBe('STANDING_RULE');

  await analyst.advance(24 * 3);
  await page.reload();
  await expect(rows.filter({ hasText: 'off-062' })).toContainText('lapsed');
  await expect(rows.filter({ hasText: 'off-060' })).toContainText('the fair lasts longer');
  expect(await holds('off-062')).not.toBe('EXCEPTION');
  expect(await holds('off-060')).toBe('EXCEPTION');
  // Either its host has installed what it was offered, or the case tells that the exception has ended.
  const { updates } = await analyst.get('/api/hosts/off-062/updates');
  const state = updates.find((update: { id: string }) => update.id === 'LNT-2080')?.state;
  if (state === 'MISSING') {
    const { cues } = await analyst.get('/api/cases/LNT-2080');
    expect(cues.map((cue: { type: string }) => cue.type)).toContain('EXCEPTION_ENDED');
  } else {
    expect(['CARRIES', 'CLAIMED', 'RESTART_OUTSTANDING']).toContain(state);
  }

  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV' }).press('Enter')]);
  expect(file.suggestedFilename()).toBe('exceptions.csv');
});

test('a list of hosts pasted from a ticket makes an exception, and names that are no host are told', async ({ page }) => {
  await signIn(page, 'm.aldane', '/cases/LNT-2080');
  await expect(page.getByText('Office desktops').first()).toBeVisible();
  await press(page, 'e');
  await page.getByRole('button', { name: 'Paste a list of hosts' }).press('Enter');
  await page.getByLabel('Names of hosts').fill('OFF-070\noff-071.skerry.example; off-999');
  await page.getByRole('button', { name: 'Use these hosts' }).press('Enter');
  await expect(page.getByLabel('Hosts where')).toHaveValue('name in (off-070, off-071)');
  await expect(page.getByText('1 name is no host here: off-999')).toBeVisible();
  await expect(page.getByText('2 hosts named')).toBeVisible();
});

test('who carried an update on a past day, and who has got it since, is answered by keyboard and handed over as a file', async ({
  page,
}) => {
  await signIn(page, 'm.aldane', '/carriers/LNT-1107');
  await expect(page.getByRole('table', { name: 'Hosts' })).toBeVisible();
  await press(page, 'd');
  const since = page.getByLabel('Compared with the end of');
  await since.fill(EARLIER);
  await expect(page).toHaveURL(new RegExp(`since=${EARLIER}`));
  await expect(page.getByRole('link', { name: 'CSV, host by host' })).toHaveAttribute('href', new RegExp(`from=${EARLIER}`));
  await expect(page.getByRole('region', { name: 'Difference' })).toContainText('0 hosts had it');
  await expect(page.getByRole('region', { name: 'Difference' })).toContainText('have got it since');
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV, host by host' }).press('Enter')]);
  expect(file.suggestedFilename()).toBe(`difference-LNT-1107-${EARLIER}.csv`);
  await page.getByRole('button', { name: 'Close' }).press('Enter');
  await press(page, '[', '[');
  await expect(page.getByRole('table', { name: 'Hosts then' })).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Who carried');
  // States add up to the population on every day.
  for (const row of await page.getByRole('table', { name: 'States by population' }).locator('tbody tr').all()) {
    const numbers = (await row.locator('td').allInnerTexts()).slice(2).map((text) => Number(text.replace(/\D/g, '')));
    expect(numbers.slice(0, -1).reduce((sum, n) => sum + n, 0)).toBe(numbers.at(-1));
  }
});
