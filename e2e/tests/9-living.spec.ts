import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** What moves the clock comes last: its hosts do what they are told, and little is as it was. */
test('twenty hosts are asked, take what is forced, and are watched to the last restart; the demo stops where it is told to', async ({
  page,
  request,
}) => {
  test.slow();
  const analyst = await Session.of(request, 'm.aldane');
  const today = async () => new Date((await analyst.get('/api/clock')).now);
  // The office is switched off at weekends.
  while ([5, 6, 0].includes((await today()).getUTCDay())) {
    await analyst.advance(24);
  }
  // Those between them are silent as the demo begins, or set to install nothing.
  const hosts = [40, 41, ...Array.from({ length: 15 }, (_, i) => 43 + i), 59, 60, 62].map((number) => `off-0${number}`);
  await analyst.post('/api/verdicts', {
    update: 'LNT-7000',
    revision: '1',
    type: 'FORCE',
    populations: ['office-desktops'],
    where: `name in (${hosts.join(', ')})`,
    until: new Date((await today()).getTime() + 86_400_000).toISOString().slice(0, 10),
    reasons: ['UNTESTED'],
    words: 'a few desks try the new release',
  });
  await analyst.post('/api/asks', { hosts });

  await signIn(page, 'm.aldane', '/hosts');
  const head = page.getByRole('region', { name: 'Asked to report' });
  // One of them may report of its own accord while this page is read.
  await expect(head).toContainText(/\d+ of 20 hosts asked to report have answered/);
  await head.getByRole('button').click();
  const rows = page.getByRole('table', { name: 'Hosts that were asked' }).getByRole('row');
  await expect(rows).toHaveCount(21);
  for (let day = 0; day < 2; day++) {
    await page.getByRole('button', { name: 'Advance' }).click();
    await page.getByText('by a day').click();
    await expect(page.getByRole('progressbar', { name: /The demo goes on to/ })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Advance' })).toBeVisible({ timeout: 200_000 });
  }
  // Nobody read the page again: it tells what came in meanwhile.
  await expect(head).toContainText('20 of 20 hosts asked to report have answered');
  await expect(rows.filter({ hasText: /downloaded LNT-7000 .*installed LNT-7000 .*started anew/ })).toHaveCount(20);
  for (const host of hosts) {
    const { updates } = await analyst.get(`/api/hosts/${host}/updates`);
    expect(updates.find((update: { id: string }) => update.id === 'LNT-7000').state, host).toBe('CARRIES');
  }

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
  // A block has withheld it for weeks: whatever becomes of the exception, the host installs nothing meanwhile.
  await page.goto('/cases/FTM-0866');
  await expect(page.getByText('Bridge consoles').first()).toBeVisible();
  await press(page, 'e');
  await expect(page.getByLabel('Hosts where')).toBeFocused();
  await page.keyboard.type('name = bri-auk-1');
  await press(page, 'Escape', 'e');
  await expect(page.getByLabel('Hosts where')).toBeFocused();
  await expect(page.getByLabel('Hosts where')).toHaveValue('');
  await page.keyboard.type('name = bri-auk-1');
  await press(page, 'Tab', 'Tab', 'Tab');
  await expect(page.getByLabel('Until the end of')).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('+2');
  await press(page, 'Tab');
  await expect(page.getByLabel('What ends it before that')).toBeFocused();
  await press(page, 'Tab');
  await page.keyboard.type('settlement run');
  await press(page, 'Tab');
  await page.keyboard.type('D. Orrin');
  await expect(page.getByRole('button', { name: 'Except 1 host' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/exception no\. \d+ on FTM-0866 where name = bri-auk-1 until/)).toBeVisible();

  const analyst = await Session.of(request, 'm.aldane');
  const holds = async () => (await analyst.get('/api/cases/FTM-0866/rulings/bri-auk-1')).holds.clause;
  expect(await holds()).toBe('EXCEPTION');
  const { rows } = await analyst.get('/api/exceptions?text=bri-auk-1');
  const { end } = rows.find((row: { where: string }) => row.where === 'name = bri-auk-1');
  const { now } = await analyst.get('/api/clock');
  const hours = Math.floor((new Date(end).getTime() - new Date(now).getTime()) / 3_600_000);
  await analyst.advance(hours - 1);
  expect(await holds()).toBe('EXCEPTION');
  await analyst.advance(2);
  expect(await holds()).toBe('VERDICT');
  await page.reload();
  await expect(page.getByText(/where name = bri-auk-1 until .*lapsed/)).toBeVisible();
  // The hosts of the demo go on reporting: nobody has become unknown through the time that passed.
  await expect.poll(async () => (await analyst.get('/api/carriers')).unknownHosts, { timeout: 20_000 }).toBeLessThan(60);
});
