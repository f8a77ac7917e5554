import { expect, type Page, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** Several answers in one sentence, what a second person must say yes to, and populations that stay at a release. */

const EVERYWHERE = [
  'pkg:generic/calculator',
  'pkg:deb/fathom/libtls',
  'pkg:rpm/tarn/libtls',
  'pkg:generic/gull-radio-driver',
  'pkg:generic/cistern-server',
];

function notice(id: string, title: string, kind: string, now: string, fixes: { product: string; fixed: string }[]): string {
  return JSON.stringify({
    format: 'update-notice-1',
    id,
    title,
    revision: '1',
    published: now,
    kind,
    fixes: fixes.map(({ product, fixed }) => ({ product, affected: [{ fixed }] })),
  });
}

const row = (page: Page, name: string) => page.locator('.poprow', { hasText: name });

test('one update, three answers for eight populations and the rest, in ten actions', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  const fixes = EVERYWHERE.map((product) => ({ product, fixed: '990.0' }));
  await analyst.document('everywhere.json', notice('SKL-0001', 'Harbour agent 2', 'bugfix', now, fixes));
  await signIn(page);
  await page.goto('/cases/SKL-0001');
  await expect(page.locator('.poprow').first()).toBeVisible();
  let actions = 0;
  const key = async (name: string) => {
    actions++;
    await press(page, name);
  };
  const click = async (what: ReturnType<Page['locator']>) => {
    actions++;
    await what.click();
  };
  await key('ArrowRight');
  await expect(page.locator('.poprow')).toHaveCount(9);
  await click(page.getByRole('checkbox', { name: 'Choose Gate controllers' }));
  await key('b');
  const sentence = page.getByRole('region', { name: 'The verdict' });
  await expect(sentence.getByText('and for 8 other populations:')).toBeVisible();
  await click(sentence.getByRole('button', { name: 'pilot', exact: true }));
  await expect(sentence.getByText(/Block for Gate controllers until/)).toBeVisible();
  for (const name of ['Bridge consoles', 'Booking databases', 'Yard servers', 'In no population']) {
    await click(page.getByRole('checkbox', { name: `Choose ${name}` }));
  }
  await key('Control+,');
  await expect(sentence.getByText(/Pilot for Proving bench, Ticket kiosks, Crew tablets, Office desktops answer by/)).toBeVisible();
  await expect(sentence.getByRole('button', { name: /^Block on 58 hosts, pilot on \d+ hosts, defer on \d+ hosts/ })).toBeEnabled();
  await key('Control+Enter');
  await expect(page.getByText(/^Block on 58 hosts, pilot on \d+ hosts, defer on \d+ hosts\./)).toBeVisible();
  expect(actions).toBeLessThanOrEqual(10);
  await expect(row(page, 'Gate controllers')).toContainText('blocked until');
  await expect(row(page, 'Ticket kiosks')).toContainText('withheld by the pilot');
  await expect(row(page, 'Yard servers')).toContainText('deferred until');
  // It was one act, and one key takes all of it back.
  await press(page, 'u');
  await expect(page.getByRole('button', { name: 'Take it back', exact: true })).toBeFocused();
  await press(page, 'Enter');
  await expect(page.getByText(/^Taken back: Block on 58 hosts/)).toBeVisible();
  await expect(row(page, 'Gate controllers')).toContainText('withheld by the standing rule');
});

test('what is suggested is worded with one key, to be changed and handed down', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/TRN-2231');
  await expect(row(page, 'Yard servers')).toBeVisible();
  await press(page, 'a');
  const sentence = page.getByRole('region', { name: 'The verdict' });
  await expect(sentence).toContainText('TRN-2231');
  await expect(page).toHaveURL(/verdict=(FORCE|PILOT|BLOCK|DEFER)/);
  await press(page, 'Escape');
  await expect(sentence).toHaveCount(0);
});

test('an approver approves one and sends one back; neither holds before', async ({ browser, request }) => {
  const analyst = await browser.newPage();
  const approver = await browser.newPage();
  await signIn(analyst);
  await signIn(approver, 'h.marsh');
  const reader = await Session.of(request, 'j.fenn');
  const holds = async (host: string) => (await reader.get(`/api/cases/FTM-0869/rulings/${host}`)).holds;
  const { now } = await reader.get('/api/clock');
  const due = new Date(new Date(now).getTime() + 6 * 86_400_000).toISOString().slice(0, 10);
  const propose = async (host: string) => {
    await analyst.goto(`/cases/FTM-0869?verdict=FORCE&for=bridge-consoles&until=${due}&where=name%20%3D%20${host}`);
    await expect(analyst.getByText('because it forces hosts of tier 1: it holds nothing until')).toBeVisible();
    await expect(analyst.getByRole('button', { name: 'Propose: force on 1 host' })).toBeEnabled();
    await press(analyst, 'Control+Enter');
    await expect(analyst.getByText(/^Proposed: force on 1 host\. It holds nothing/)).toBeVisible();
  };
  // What the rule says of them depends on how far the clock has been moved.
  const before = await holds('bri-auk-2');
  const beforeOther = await holds('bri-auk-3');
  await propose('bri-auk-2');
  await propose('bri-auk-3');
  expect(await holds('bri-auk-2')).toEqual(before);

  // Both stand above the approver's docket; each opens with what it would do now.
  const waiting = approver.getByRole('list', { name: 'Proposals' });
  await expect(waiting).toContainText('where name = bri-auk-2');
  await expect(waiting).toContainText('where name = bri-auk-3');
  await waiting.getByRole('listitem').filter({ hasText: 'bri-auk-2' }).getByRole('link').click();
  const one = approver.getByRole('region', { name: /^Proposal/ }).filter({ hasText: 'where name = bri-auk-2' });
  await expect(one).toContainText('1 host offered now, due');
  await one.getByRole('button', { name: 'Approve for 1 host' }).click();
  await expect(approver.getByText('Approved for 1 host.')).toBeVisible();
  expect((await holds('bri-auk-2')).verdict).toBe('FORCE');
  const other = approver.getByRole('region', { name: /^Proposal/ }).filter({ hasText: 'where name = bri-auk-3' });
  await other.getByLabel('Why it is sent back').fill('that console is at sea');
  await other.getByRole('button', { name: 'Send back' }).click();
  await expect(approver.getByText('Sent back to M. Aldane.')).toBeVisible();
  expect(await holds('bri-auk-3')).toEqual(beforeOther);

  await analyst.goto('/docket');
  await expect(analyst.getByRole('list', { name: 'Proposals' })).toContainText('H. Marsh: that console is at sea');
  const record = await reader.get('/api/record?subject=FTM-0869');
  expect(record.entries.map((entry: { sentence: string }) => entry.sentence).join('\n')).toContain(
    'Approved what M. Aldane proposed: Forced FTM-0869',
  );
  await analyst.close();
  await approver.close();
});

test('a population is promoted to a release: first that a day of 0 would offer nothing above it, then what it would', async ({
  page,
  request,
}) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  await analyst.document(
    'eight.json',
    notice('LNT-8000', 'Lantern Desktop 8', 'upgrade', now, [{ product: 'pkg:generic/lantern-desktop', fixed: '8.0' }]),
  );
  await signIn(page, 'm.aldane', '/populations');
  await page.goto('/populations?at=crew-tablets&change=crew-tablets');
  const preview = page.getByRole('complementary', { name: 'What this changes' });
  await page.getByLabel('Crew tablets, rule 1: days', { exact: true }).fill('0');
  await expect(preview).toContainText('Crew tablets is offered platform upgrades on the day of their release.');
  await expect(preview).not.toContainText('Lantern Desktop 8');
  await page.getByLabel('Release', { exact: true }).fill('8');
  await expect(preview).toContainText(/Lantern Desktop 8 offered to \d+ hosts/);
  await expect(preview.getByRole('button', { name: /^Save: \d+ updates? offered or due otherwise$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByRole('region', { name: 'Crew tablets' })).toContainText('Stays at lantern-desktop 6, supported until');
});

test('the fleet is declared cautious for some days, in sight on every place, and that is taken back', async ({ page }) => {
  await signIn(page, 'm.aldane', '/in-force');
  await page.getByRole('button', { name: 'Caution' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Caution').click();
  await page.getByText('judged only: standing rules offer nothing').click();
  await expect(dialog).toContainText(/\d+ updates that standing rules offer now would be withheld/);
  await dialog.getByLabel('Why').fill('three bad updates in one week');
  await dialog.getByRole('button', { name: 'Declare it' }).click();
  const line = page.getByRole('status').filter({ hasText: 'The fleet is judged only until the end of' });
  await expect(line).toContainText('M. Aldane: three bad updates in one week');
  await page.goto('/cases/TRN-2231?verdict=BLOCK&for=yard-servers');
  await expect(line).toBeVisible();
  await expect(page.getByRole('region', { name: 'The verdict' })).toBeVisible();
  await line.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByRole('dialog')).toContainText('would be offered to');
  await expect(page.getByRole('button', { name: 'Take it back', exact: true })).toBeFocused();
  await press(page, 'Enter');
  await expect(line).toHaveCount(0);
});

test('by keyboard only: several cases are chosen, told case by case, decided at once and taken back as one', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  for (const id of ['SKL-0031', 'SKL-0032', 'SKL-0033']) {
    const fixes = [{ product: 'pkg:generic/calculator', fixed: '991.0' }];
    await analyst.document(`${id}.json`, notice(id, `Firmware ${id}`, 'firmware', now, fixes));
  }
  await signIn(page);
  await page.goto('/docket?kind=FIRMWARE');
  const strips = page.locator('.strip');
  await expect(strips).toHaveCount(3);
  await press(page, ' ', ' ', ' ');
  await expect(page.getByText('3 chosen')).toBeVisible();
  await press(page, 'd');
  const rows = page.getByRole('table', { name: 'What it would do, case by case' }).locator('tbody tr');
  await expect(rows).toHaveCount(3);
  await expect(page.getByRole('button', { name: 'Defer 3 updates' })).toBeEnabled();
  await expect(rows.first()).toContainText(/\d+ hosts Proving bench \d/);
  await press(page, 'ArrowDown', 'ArrowDown', 'x');
  await expect(rows).toHaveCount(2);
  await expect(page.getByRole('button', { name: 'Defer 2 updates' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('Press again to decide all of them')).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText('Defer 2 updates.')).toBeVisible();
  await expect(page).toHaveURL(/\/docket/);
  // Keys act once the docket is there.
  await expect(page.getByRole('heading', { name: /your judgement/ })).toBeVisible();
  await expect(strips.first()).toBeVisible();
  const decided = async () => (await analyst.get('/api/docket?show=ANSWERED&kind=FIRMWARE')).matching;
  expect(await decided()).toBe(2);
  await press(page, 'u');
  // The rule offers them to the proving bench: that is said first.
  await expect(page.getByRole('button', { name: 'Take it back', exact: true })).toBeFocused();
  await press(page, 'Enter');
  await expect(page.getByText('Taken back: Defer 2 updates.')).toBeVisible();
  expect(await decided()).toBe(0);
});

test('a verdict is changed in one act, on its case or from the calendar, and U brings back what it was', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  const { now } = await analyst.get('/api/clock');
  const day = (days: number) => new Date(Date.parse(now) + days * 86_400_000).toISOString().slice(0, 10);
  const fixes = [{ product: 'pkg:generic/calculator', fixed: '992.0' }];
  await analyst.document('changed.json', notice('SKL-0021', 'Harbour agent 3', 'bugfix', now, fixes));
  await analyst.post('/api/verdicts', {
    update: 'SKL-0021',
    revision: '1',
    type: 'BLOCK',
    populations: ['ticket-kiosks', 'crew-tablets'],
    until: day(25),
    reasons: ['UNTESTED'],
    words: '',
  });
  type Standing = { stands: boolean; end: string };
  const ends = async () =>
    ((await analyst.get('/api/cases/SKL-0021')).verdicts as Standing[]).filter((one) => one.stands).map((one) => one.end.slice(0, 10));
  const before = await ends();
  expect(before).toHaveLength(2);
  await signIn(page);
  await page.goto('/cases/SKL-0021');
  await page.getByRole('link', { name: 'Change', exact: true }).click();
  const sentence = page.getByRole('region', { name: 'The verdict' });
  await expect(sentence.getByText(/In the place of what was decided before/)).toBeVisible();
  await sentence.getByLabel('Until the end of').fill(day(9));
  await expect(sentence.getByRole('button', { name: /^Block on \d+ hosts/ })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/^Block on \d+ hosts\./)).toBeVisible();
  expect(await ends()).toEqual([day(10), day(10)]);
  await press(page, 'u');
  await expect(page.getByText(/^Taken back: Block on/)).toBeVisible();
  expect(await ends()).toEqual(before);
  // From the calendar its end is taken to another day; what that does is told where it is worded.
  await page.goto('/in-force?face=calendar&text=SKL-0021');
  const calendar = page.getByRole('table', { name: 'What ends when' });
  const end = calendar.getByRole('button', { name: /^Ticket kiosks, .*: 1 decision/ });
  await end.dragTo(
    calendar
      .getByRole('row', { name: /^Ticket kiosks/ })
      .getByRole('cell')
      .nth(12),
  );
  await expect(sentence.getByText(/In the place of what was decided before/)).toBeVisible();
  await expect(page).toHaveURL(new RegExp(`until=${day(12)}`));
});
