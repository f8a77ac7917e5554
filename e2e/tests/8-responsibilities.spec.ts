import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

test('an exception on the costliest hosts is proposed by keyboard, approved, and taken back', async ({ browser, request }) => {
  const administrator = await (await browser.newContext()).newPage();
  await signIn(administrator, 'k.strand');
  await administrator.goto('/access');
  const asks = administrator.getByLabel('Excepting hosts, tier 1');
  await asks.press('Space');
  await expect(asks).toBeChecked();

  const analyst = await (await browser.newContext()).newPage();
  await signIn(analyst);
  const where = 'name = bri-auk-1';
  await analyst.goto(
    `/cases/FTM-0880?${new URLSearchParams({ except: 'yes', where, words: 'the chart table is not certified', owner: 'S. Orrin' })}`,
  );
  await expect(analyst.getByText(/Needs an approver, because it excepts hosts of tier 1/)).toBeVisible();
  await press(analyst, 'Control+Enter');
  await expect(analyst.getByText(/Proposed: an exception for 1 host\. It holds nothing until an approver says so/)).toBeVisible();

  const approver = await (await browser.newContext()).newPage();
  await signIn(approver, 'h.marsh');
  await approver.getByRole('link', { name: 'an exception' }).press('Enter');
  const proposal = approver.getByRole('region', { name: /Proposal/ }).filter({ hasText: 'the chart table is not certified' });
  await expect(proposal).toContainText('Until then it holds nothing');
  await expect(proposal).toContainText('1 host named; 1 host of them lacks FTM-0880 and would be under this exception bri-auk-1');
  await expect(approver.getByRole('link', { name: /^Exceptions \d/ })).toBeVisible();
  await proposal.getByRole('button', { name: 'Approve for 1 host' }).press('Enter');
  const made = approver.getByText(/Exception no\. \d+ is made/);
  await expect(made).toBeVisible();
  const number = /no\. (\d+)/.exec((await made.textContent()) ?? '')?.[1];
  await expect(approver.getByRole('row', { name: /the chart table is not certified/ })).toContainText('approved by H. Marsh');

  // The others find everything as it was.
  const session = await Session.of(request, 'm.aldane');
  await session.delete(`/api/decisions?exception=${number}`);
  await asks.press('Space');
  await expect(asks).not.toBeChecked();
});

test('whoever answers for an exception objects to a force that goes over it, on a page of their own', async ({
  page,
  playwright,
  baseURL,
}) => {
  const of = async (name: string) => Session.of(await playwright.request.newContext({ baseURL: baseURL ?? '' }), name);
  const analyst = await of('m.aldane');
  const today = (await analyst.get('/api/clock')).now;
  const day = (days: number) => new Date(new Date(today).getTime() + days * 86_400_000).toISOString().slice(0, 10);
  const page1 = await analyst.get('/api/carriers/LNT-2031/hosts?population=office-desktops&state=MISSING');
  const host = page1.hosts.at(-1).name;
  const exception = await analyst.post('/api/exceptions', {
    update: 'LNT-2031',
    scope: 'UPDATE',
    hosts: `name = ${host}`,
    until: day(20),
    reason: 'its forms open in the old one only',
    owner: 'S. Orrin',
    measure: '',
  });
  const proposed = await analyst.post('/api/proposals', {
    update: 'LNT-2031',
    revision: (await analyst.get('/api/cases/LNT-2031')).update.revision,
    type: 'FORCE',
    populations: ['office-desktops'],
    where: `name = ${host}`,
    until: day(9),
    reasons: ['EXPOSED'],
    words: '',
    overriddenExceptions: [exception.number],
  });
  const approver = await of('h.marsh');
  const forced = await approver.post(`/api/proposals/${proposed.number}/approvals`, {});

  await signIn(page, 's.orrin', '/digest');
  await page.goto('/digest');
  await page
    .getByRole('link', { name: new RegExp(`goes over your exception no\\. ${exception.number}, due .*: you may object`) })
    .press('Enter');
  await expect(page.getByRole('heading', { name: `Exception no. ${exception.number} is gone over` })).toBeVisible();
  await expect(page.getByText('It reaches 1 host of it')).toBeVisible();
  const result = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
  expect(result.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')).toEqual([]);
  await page.getByLabel('What is against it').focus();
  await page.keyboard.type('its forms are lost with it');
  await press(page, 'Control+Enter');
  await expect(page.getByText(/its forms are lost with it S\. Orrin/)).toBeVisible();
  const told = (await analyst.get('/api/cases/LNT-2031')).cues.filter((cue: { type: string }) => cue.type === 'OBJECTED');
  expect(told[0].about).toBe('S. Orrin: its forms are lost with it');
  await page.getByRole('button', { name: 'Take back' }).press('Enter');
  await expect(page.getByText('They hold nothing back by themselves')).toHaveCount(0);
  await analyst.delete(forced.undo);
  await analyst.delete(exception.undo);
});

test('all that somebody answers for is handed over by keyboard, and taken back', async ({ page }) => {
  await signIn(page);
  await page.goto('/exceptions?owner=P.%20Lind');
  await expect(page.getByRole('row', { name: /P\. Lind/ })).toBeVisible();
  await press(page, 'h');
  const sheet = page.getByRole('region', { name: 'Handing over' });
  await expect(sheet).toContainText('Exception no.');
  await sheet.getByLabel('Who takes over').focus();
  await press(page, 'ArrowDown');
  const offered = page.locator('.ant-select-item-option-active');
  await expect(offered).toBeVisible();
  while (!(await offered.textContent())?.startsWith('J. Fenn')) {
    await press(page, 'ArrowDown');
  }
  await press(page, 'Enter');
  await sheet.getByRole('button', { name: /Hand over \d+ thing/ }).press('Enter');
  await expect(page.getByText(/handed over from P\. Lind to J\. Fenn/)).toBeVisible();
  await expect(page.getByText('No exception matches.')).toBeVisible();
  await press(page, 'u');
  await expect(page.getByRole('row', { name: /P\. Lind/ })).toContainText('handed over to J. Fenn (taken back)');
  await page.goto('/record');
  await expect(page.getByText(/Handed the exception on .* over from P\. Lind to J\. Fenn/)).toContainText('Taken back by M. Aldane');
});

test('what changed between two days opens to the hosts of one update; a past day tells what was in force', async ({ page }) => {
  await signIn(page);
  await page.goto('/carriers?face=changes');
  const table = page.getByRole('table', { name: 'What changed' });
  const row = table.getByRole('row', { name: /LNT-1107/ });
  await expect(row).toContainText('+');
  const from = new URL((await row.getByRole('link').first().getAttribute('href')) ?? '', 'http://there').searchParams.get('since');
  await press(page, '[');
  await expect.poll(() => new URL(page.url()).searchParams.get('from')).not.toBeNull();
  expect((new URL(page.url()).searchParams.get('from') ?? '') < (from ?? '')).toBe(true);
  await table
    .getByRole('row', { name: /LNT-1107/ })
    .getByRole('link', { name: /hosts? ha(s|ve) got it/ })
    .first()
    .press('Enter');
  await expect(page.getByRole('region', { name: 'Difference' })).toContainText('have got it since');

  await page.goto('/in-force');
  await page.getByRole('button', { name: 'On a past day' }).press('Enter');
  await expect(page.getByRole('table', { name: 'Decisions in force then' })).toBeVisible();
  await press(page, '[', '[');
  await expect(page.getByRole('table', { name: 'Decisions in force then' })).toContainText('still stands');
  await press(page, 'Escape');
  await expect(page.getByRole('heading', { name: 'In force', exact: true })).toBeVisible();
});
