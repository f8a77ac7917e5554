import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** The demo's pilot to its end. Other tests of the demo have moved its clock before, and have extended the sample. */
test('a pilot fails on a fault of one site, is narrowed to it, met the second time, and goes on to the others', async ({
  page,
  request,
}) => {
  // Some weeks of the demo go by, as fast as the machine lets them.
  test.slow();
  const analyst = await Session.of(request, 'm.aldane');
  const pilots = async () =>
    (await analyst.get('/api/pilots')).filter((one: { update: string }) => one.update === 'LNT-3051') as {
      number: number;
      state: string;
    }[];
  const answers = async (host: string) =>
    (await analyst.get(`/api/cases/LNT-3051/rulings/${host}`)).chain.map(
      (match: { verdict?: string; effect: string }) => `${match.verdict} ${match.effect}`,
    );
  const holds = async (host: string) => (await analyst.get(`/api/cases/LNT-3051/rulings/${host}`)).holds;
  for (let day = 0; day < 5 && (await pilots())[0]?.state !== 'FAILED'; day++) {
    await analyst.advance(24);
  }
  const { hosts } = await analyst.get('/api/pilots/2');
  const one = (state: string) => hosts.find((host: { state: string }) => host.state === state).host.name;
  const failed = one('FAILED');
  expect((await holds(one('NOT_TRIED'))).effect).toBe('WITHHELD');

  // What failed is narrowed to its cause.
  await signIn(page, 'm.aldane', '/pilots/2');
  await expect(page.getByRole('heading', { name: /^Failed/ })).toBeVisible();
  await page.getByRole('link', { name: 'Block it, narrowed to its cause where one is told' }).click();
  await expect(page.getByLabel('Narrowed to hosts where')).toHaveValue('site = south-ness');
  await page.getByLabel('Until the end of').fill('+60');
  await expect(page.getByRole('button', { name: /^Block on \d+ hosts$/ })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/blocked for Ticket kiosks where site = south-ness/)).toBeVisible();

  // The others try it again; once the gate is met it goes on by itself.
  await press(page, 'p');
  await expect(page.getByLabel('How many hosts try it')).toBeFocused();
  // A number is proposed once the sample is drawn; the own one is put in its place then.
  await expect(page.getByRole('button', { name: /^Pilot on \d+ hosts/ })).toBeEnabled();
  await page.getByLabel('How many hosts try it').fill('58');
  await page.getByLabel('Narrowed to hosts where').fill('not site = south-ness');
  await page.getByRole('combobox', { name: 'Once it is met' }).focus();
  await press(page, 'ArrowDown', 'ArrowDown', 'Enter');
  // One who does not try is replaced after a week; there is time for that.
  await page.getByLabel('To answer by the end of').fill('+20');
  await expect(page.getByRole('button', { name: /^Pilot on 58 hosts/ })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('Pilot on 58 hosts.')).toBeVisible();
  const carry = async () => (await analyst.get('/api/carriers/LNT-3051')).row.fleet.carries;
  const before = await carry();
  for (let week = 0; week < 4 && !(await pilots()).some((pilot) => pilot.number !== 2 && pilot.state === 'MET'); week++) {
    await analyst.advance(24 * 5);
  }
  const again = (await pilots()).find((pilot) => pilot.number !== 2);
  await page.goto(`/pilots/${again?.number}`);
  await expect(page.getByText(/^Once it is met, it is let go .* Done/)).toBeVisible();

  // It is widened: the other kiosks get it, those of the site do not, whatever freeze stands over both by now.
  await analyst.advance(24 * 2);
  expect(await carry()).toBeGreaterThanOrEqual(before + 58);
  expect(await answers(failed)).toContain('BLOCK WITHHELD');
});
