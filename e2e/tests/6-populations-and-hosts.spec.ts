import { expect, test } from '@playwright/test';
import { press, Session, signIn } from './product';

test('by keyboard only: a population is changed with its preview seen first, and taken back', async ({ page, request }) => {
  const reader = await Session.of(request, 'j.fenn');
  const before = await reader.get('/api/populations/document');
  await signIn(page, 'm.aldane', '/populations');
  await page.goto('/populations');
  await expect(page.getByRole('region', { name: 'Proving bench' })).toHaveAttribute('aria-current', 'true');
  await press(page, 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter');
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused();
  await press(page, 'Tab', 'End');
  await page.keyboard.type(' and facing ≠ public');
  const preview = page.getByRole('complementary', { name: 'What this changes' });
  await expect(preview).toContainText('21 hosts from Yard servers to no population: yard-01, yard-04, yard-07 and 18 more');
  await expect(preview).toContainText(/TRN-2240 for Yard servers loses \d+ hosts/);
  await expect(preview).toContainText('No exception gains or loses hosts');
  expect(await reader.get('/api/populations/document')).toEqual(before);

  // Nothing that is worded is lost by a reload.
  await page.reload();
  await expect(preview).toContainText('21 hosts move');
  await expect(page.getByLabel('Condition')).toHaveValue('role = yard and facing ≠ public');
  await press(page, 'Control+Enter');
  await expect(page.getByText('The populations are saved; 21 hosts moved.')).toBeVisible();
  await expect(preview).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Yard servers' })).toContainText('42 hosts where role = yard and facing ≠ public');
  await press(page, 'u');
  // What that would offer to hosts is said first.
  await expect(page.getByRole('dialog')).toContainText('would be offered to');
  await expect(page.getByRole('button', { name: 'Take it back' })).toBeFocused();
  await press(page, 'Enter');
  await expect(page.getByText('Taken back: The populations are saved')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Yard servers' })).toContainText('63 hosts where role = yard.');
  expect(await reader.get('/api/populations/document')).toEqual(before);
  const record = await reader.get('/api/record?kind=POPULATIONS');
  expect(record.entries[1].sentence).toBe(
    'Populations: changed Yard servers: condition from role = yard to role = yard and facing ≠ public; hosts moved: 21 from Yard servers to none.',
  );
});

test('a population is added, moved up, found at fault and discarded; an earlier ladder can be worded again', async ({ page }) => {
  await signIn(page);
  await page.goto('/populations');
  await expect(page.getByRole('region', { name: 'Proving bench' })).toBeVisible();
  await press(page, 'a');
  const preview = page.getByRole('complementary', { name: 'What this changes' });
  await expect(preview.getByRole('alert')).toHaveText('Which hosts belong to Population 9? Word its condition.');
  await press(page, 'Tab');
  await page.keyboard.type('role = loan');
  await expect(preview).toContainText('8 hosts from no population to Population 9');
  await page.getByRole('button', { name: 'Higher' }).click();
  await expect(page.locator('.population').first()).toContainText('are the hosts where');
  await page.getByLabel('Condition').fill('spool_free_mb < low');
  await expect(preview.getByRole('alert')).toContainText("'low' is none");
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(preview).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Population 9' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Earlier ladders' }).click();
  await page
    .getByRole('menuitem', { name: /^from .*M\. Aldane/ })
    .first()
    .click();
  await expect(preview).toContainText('21 hosts move');
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('holidays come from an iCalendar file, stand on the calendar, and are told where a deferral ends on one', async ({
  page,
  request,
}) => {
  const analyst = await Session.of(request, 'm.aldane');
  const before = await analyst.get('/api/populations/document');
  const { now } = await analyst.get('/api/clock');
  const [eve, day] = [9, 10].map((days) => new Date(new Date(now).getTime() + days * 86_400_000).toISOString().slice(0, 10));
  const file = [
    'BEGIN:VCALENDAR',
    'NAME:Fell office',
    ...['BEGIN:VEVENT', `DTSTART;VALUE=DATE:${day?.replaceAll('-', '')}`, 'RRULE:FREQ=YEARLY', 'SUMMARY:Beacon Day', 'END:VEVENT'],
    ...['BEGIN:VEVENT', 'DTSTART:20270105T180000', 'SUMMARY:Party', 'END:VEVENT'],
    'END:VCALENDAR',
  ];
  await signIn(page, 'm.aldane', '/populations?at=holidays');
  await page.goto('/populations?at=holidays');
  const holidays = page.getByRole('region', { name: 'Holidays' });
  await expect(holidays).toContainText('Shore offices, for ');
  await page
    .getByLabel('iCalendar file of holidays')
    .setInputFiles({ name: 'fell.ics', mimeType: 'text/calendar', buffer: Buffer.from(file.join('\r\n')) });
  await expect(holidays.getByRole('status')).toContainText(
    /fell\.ics: [34] holidays until .* in Fell office; say for whom they count, and save/,
  );
  await expect(holidays.getByRole('status')).toContainText('event 2 (Party) is at a time of the day');
  await expect(page.getByRole('complementary', { name: 'What this changes' })).toContainText('No host moves');
  await expect(page.getByRole('button', { name: 'Save: no host moves' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('The populations are saved; no host moved.')).toBeVisible();
  await expect(holidays).toContainText('Fell office, for all: Beacon Day');

  await page.getByRole('link', { name: 'In force' }).click();
  await expect(page.getByRole('table', { name: 'Decisions in force' })).toBeVisible();
  await press(page, 'c');
  await expect(page.getByRole('cell').and(page.getByTitle('Beacon Day'))).toHaveCount(9);
  const worded = {
    update: 'LNT-3051',
    revision: '1',
    type: 'DEFER',
    populations: ['office-desktops'],
    until: eve,
    reasons: ['UNTESTED'],
    words: '',
  };
  const [deferral] = await analyst.post('/api/verdicts/preview', worded);
  expect(deferral.fewThere).toEqual({ when: 'ON_HOLIDAY', holiday: 'Beacon Day' });

  await page.getByRole('link', { name: 'Populations', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Proving bench' })).toBeVisible();
  await press(page, 'u');
  await expect(page.getByText('Taken back: The populations are saved')).toBeVisible();
  expect(await analyst.get('/api/populations/document')).toEqual(before);
});

test('which hosts lack a CVE is answered from anywhere in three actions', async ({ page, request }) => {
  const reader = await Session.of(request, 'j.fenn');
  const cve = (await reader.get('/api/cases/TRN-2231')).update.vulnerabilities[0].id as string;
  const lacking = new Set<string>();
  for (const update of ['TRN-2231', 'FTM-0869']) {
    for (const host of (await reader.get(`/api/hosts?lacks=${update}`)).hosts) {
      lacking.add(host.name);
    }
  }
  await signIn(page);
  await page.goto('/record');
  await expect(page.locator('.entry').first()).toBeVisible();
  // 1: one key. 2: one value typed and confirmed.
  await press(page, '/');
  await page.keyboard.type(cve);
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`${lacking.size} hosts lack what closes ${cve}`);
  await expect(page.getByRole('table', { name: 'Hosts' })).toContainText('FTM-0869');
  await expect(page.getByRole('table', { name: 'Hosts' })).toContainText('TRN-2231');
});

test('arrows and Enter find a host; its page tells what it lacks, has and why', async ({ page }) => {
  await signIn(page);
  await press(page, '/');
  await page.keyboard.type('ksk-11');
  await expect(page.getByRole('option', { name: /ksk-110/ })).toHaveAttribute('aria-selected', 'true');
  await press(page, 'ArrowDown', 'ArrowUp', 'ArrowDown', 'Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('ksk-111');
  await expect(page.getByRole('row', { name: /Harbour browser 118.2/ })).toContainText('missing');
  await page
    .getByRole('button', { name: /^(withheld|offered) by the standing rule/ })
    .first()
    .click();
  await expect(page.getByRole('list', { name: 'Chain of reasons' })).toContainText('(this holds)');
  await press(page, 'ArrowRight', 'ArrowRight');
  await expect(page.getByRole('table', { name: 'Products' })).toContainText('Lantern Desktop 6.0.1107');
  await press(page, 'ArrowRight');
  await expect(page.getByText('Reported: lantern-desktop from 6.0.1101 to 6.0.1107.')).toBeVisible();
  await press(page, 'Escape');
});

test('hosts that lack an update are chosen by keyboard, and an exception is worded for them', async ({ page }) => {
  await signIn(page);
  await page.goto('/hosts?show=ALL&lacks=LNT-7000');
  await expect(page.getByRole('table', { name: 'Hosts' }).getByRole('row').nth(2)).toBeVisible();
  await press(page, ' ', 'ArrowDown', ' ');
  await expect(page.getByText('2 hosts chosen')).toBeVisible();
  await press(page, 'e');
  await expect(page).toHaveURL(/\/cases\/LNT-7000\?except=yes&where=/);
  await expect(page.getByRole('region', { name: 'The exception' })).toContainText('2 hosts named; 2 hosts of them lack LNT-7000');
});

test('hosts are filtered by a condition, and the filter is kept under a name', async ({ page }) => {
  await signIn(page);
  await page.goto('/hosts');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^\d+ hosts differ$/);
  await page.getByRole('button', { name: /^All \d+$/ }).click();
  await page.getByLabel('Hosts where').fill('reader = R2 and spool_free_mb < 300');
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/where=reader/);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^\d\d hosts$/);
  const heading = await page.getByRole('heading', { level: 1 }).textContent();
  await page.getByRole('button', { name: 'Saved filters' }).click();
  await page.getByLabel('Name of the filter').fill('nearly full R2');
  await press(page, 'Enter');
  await expect(page.getByRole('link', { name: 'nearly full R2' })).toBeVisible();
  await page.goto('/hosts');
  await page.getByRole('button', { name: 'Saved filters 1' }).click();
  await page.getByRole('link', { name: 'nearly full R2' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(heading ?? '');
});

test('a host is retired with a reason, counts nowhere, and is brought back with one key', async ({ page }) => {
  await signIn(page);
  await page.goto('/hosts/ksk-118');
  await page.getByRole('button', { name: 'Retire this host' }).focus();
  await press(page, 'Enter');
  const reason = page.getByLabel('It is there no more, because');
  await expect(reason).toBeFocused();
  await press(page, 'Enter');
  await expect(page.getByRole('alert')).toContainText('say why it is retired');
  await page.keyboard.type('scrapped');
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { name: 'Retired' })).toBeVisible();
  await expect(page.getByText(/scrapped. It counts nowhere/)).toBeVisible();
  await page.goto('/hosts?show=ALL');
  await expect(page.getByText(/1 host is retired and counted nowhere/)).toBeVisible();
  await page.getByRole('link', { name: 'ksk-118' }).click();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByRole('button', { name: 'Retire this host' })).toBeVisible();
});
