import { expect, test } from '@playwright/test';
import { Session, signIn } from './product';

/** As the demo goes on its hosts do what they are told, and who looks on sees how far it is. */
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
