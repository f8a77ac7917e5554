import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** What an operator is to install by hand: the slot, and that it is done, by keyboard alone. */
test('an operator agrees a slot, says that one host is done, and takes it back; the analyst sees it on the case', async ({
  page,
  request,
}) => {
  await signIn(page, 'b.tove', '/docket');
  await expect(page.getByRole('heading', { name: 'For you to install' })).toBeVisible();
  const work = page.getByRole('region', { name: 'TRN-2236, Booking databases' });
  await expect(work.getByText('move bookings to the other database of the pair')).toBeVisible();
  const row = (host: string) => work.getByRole('row', { name: new RegExp(host) });
  // In the order that the verdict names; what was said and is not so is told.
  await expect(work.locator('tbody tr').first()).toContainText('bdb-09 no. 1');
  await expect(row('bdb-08')).toContainText('agreed for Sun');
  await expect(row('bdb-07')).toContainText(/said to be done .*, and its report of .* lacks it/);

  // The slot begins as the next hours that the population allows.
  await press(page, 's');
  const form = page.getByRole('region', { name: 'Agree a slot' });
  await expect(form).toContainText('Install it on 7 hosts from');
  await expect(form.getByLabel('From, time of the day in UTC')).toHaveValue('02:00');
  await expect(form.getByText('This is not within the next hours')).toHaveCount(0);
  await form.getByLabel('From, time of the day in UTC').fill('14:00');
  await expect(form.getByText('This is not within the next hours')).toBeVisible();
  await form.getByLabel('From, time of the day in UTC').fill('02:00');
  await press(page, 'Control+Enter');
  await expect(page.getByText(/TRN-2236 is agreed on 7 hosts for Sun .* 02:00 to 05:00/)).toBeVisible();
  await expect(row('bdb-01')).toContainText('agreed for Sun');

  // One host is done: with nothing chosen it is the one at hand.
  await press(page, 'ArrowDown', 'ArrowDown', 'd');
  await expect(row('bdb-01')).toContainText('no report since');
  const analyst = await Session.of(request, 'm.aldane');
  const digest = await analyst.get('/api/digest?hours=24');
  expect(JSON.stringify(digest)).not.toContain('1 lacks it though it was said to be done');
  await press(page, 'u');
  await expect(row('bdb-01')).toContainText('agreed for Sun');

  // The slots are told to the operator's own calendar, wherever that is.
  await page.goto('/account');
  await expect(page.getByRole('heading', { name: 'Your calendar of what to install' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Your calendar of what is in force' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Make an address' }).click();
  const address = (await page.locator('code').filter({ hasText: '/api/operator-work/calendar?key=' }).textContent()) ?? '';
  const calendar = (await (await fetch(address)).text()).replaceAll('\r\n ', '');
  expect(calendar).toMatch(/SUMMARY:TRN-2236 by operator on \d hosts? of Booking databases/);

  await page.context().clearCookies();
  await signIn(page, 'm.aldane', '/cases/TRN-2236');
  await expect(page.getByText(/9 hosts of Booking databases to do: 9 agreed, the first for Sun/)).toBeVisible();
  await page.getByText('By operator', { exact: true }).last().click();
  await expect(page.getByRole('heading', { name: 'By operator' })).toBeVisible();
  await expect(page.getByText('Only TRN-2236: show all')).toBeVisible();

  // The slots stand on the calendar of what is in force, and on the page of each host.
  await page.goto('/in-force?face=calendar');
  await page.getByRole('button', { name: /^Booking databases, .*TRN-2236 by operator on/ }).click();
  await expect(page.getByText(/TRN-2236 by operator on \d hosts?, as agreed: Sun/).first()).toBeVisible();
  await page.goto('/hosts/bdb-08');
  await expect(page.getByRole('region', { name: 'By operator' })).toContainText('TRN-2236: agreed for Sun');
});
