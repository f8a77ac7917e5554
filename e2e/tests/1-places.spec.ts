import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { signIn } from './product';

const daysAgo = (days: number) => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10);

/** The other face of a place that has its picture already. */
const LIST = 'in-force as a list';

/** Every place, with something that tells that it has been read. */
const PLACES: { name: string; path: string; ready: string; who?: string; prepare?: (page: Page) => Promise<void> }[] = [
  { name: 'docket', path: '/docket?at=LNT-1107', ready: '.strip' },
  {
    name: 'case',
    path: '/cases/LNT-1107?narrow=first',
    ready: 'text=Block on 17 hosts',
  },
  {
    name: 'several-cases',
    path: '/decide?cases=TRN-2231,FTM-0869,GUL-0440,LNT-2031,LNT-3043,LNT-7000&verdict=DEFER',
    ready: 'text=35 hosts',
  },
  { name: 'weighing', path: '/cases/FTM-0869?weigh=yard-servers', ready: '.factors' },
  {
    name: 'weights',
    path: '/weights',
    ready: 'text=Nothing is changed yet',
    prepare: async (page) => {
      await page.getByLabel('tier 1').fill('20');
      await page.getByRole('table', { name: 'Cases that would change' }).waitFor();
    },
  },
  { name: 'in-force', path: '/in-force?face=calendar', ready: 'table[aria-label="What ends when"] button' },
  { name: LIST, path: '/in-force', ready: 'table[aria-label="Decisions in force"] tbody tr' },
  { name: 'in-force-then', path: `/in-force?on=${daysAgo(5)}`, ready: 'table[aria-label="Decisions in force then"] tbody tr' },
  { name: 'by-operator', path: '/by-operator', ready: 'table[aria-label="Hosts for TRN-2236"] tbody tr', who: 'b.tove' },
  { name: 'exceptions', path: '/exceptions', ready: 'table[aria-label="Exceptions"] tbody tr' },
  { name: 'pilots', path: '/pilots', ready: 'table[aria-label="Pilots that run"] tbody tr' },
  { name: 'pilot', path: '/pilots/2', ready: 'ul[aria-label="Hosts of the sample"] li' },
  { name: 'carriers', path: '/carriers', ready: 'table.matrix .carriage' },
  { name: 'carriers-in-force', path: '/carriers?face=in-force', ready: 'table.matrix .mark' },
  { name: 'what-changed', path: '/carriers?face=changes', ready: 'table[aria-label="What changed"] tbody tr' },
  { name: 'time-to-carry', path: '/report/time-to-carry', ready: 'table.list tbody tr' },
  { name: 'known-exploited', path: '/report/exploited', ready: 'table.list tbody tr' },
  { name: 'withheld', path: '/report/withheld', ready: 'table.list tbody tr' },
  { name: 'forced', path: '/report/forced', ready: 'text=whether the force brought it there' },
  { name: 'digest', path: '/digest', ready: 'main li' },
  { name: 'verdict-sheet', path: '/cases/LNT-3042/verdicts/5', ready: 'text=As the case stood' },
  { name: 'carriers-of-one-update', path: '/carriers/LNT-1107?population=crew-tablets', ready: 'table[aria-label=Hosts] tbody tr' },
  {
    name: 'populations',
    path: '/populations?at=yard-servers&change=yard-servers',
    ready: 'text=Proving bench',
    prepare: async (page) => {
      await page.getByLabel('Condition').fill('role = yard and facing ≠ public');
      await page.getByRole('button', { name: 'Save: 21 hosts move' }).waitFor();
    },
  },
  { name: 'hosts', path: '/hosts', ready: 'table[aria-label=Hosts] tbody tr' },
  { name: 'host', path: '/hosts/ksk-044', ready: 'table[aria-label=Updates] tbody tr' },
  {
    name: 'search',
    path: '/record?kind=VERDICT',
    ready: '.entry',
    prepare: async (page) => {
      await page.keyboard.press('/');
      await page.keyboard.type('libtls');
      await page.getByRole('option').first().waitFor();
    },
  },
  {
    name: 'intake',
    path: '/intake?vendor=Halyard%20Works',
    ready: 'table.list tbody tr',
    prepare: async (page) => {
      await page.getByRole('button', { name: 'pkg:generic/harbour-browser' }).click();
      await page.getByText('453 hosts lack it').waitFor();
    },
  },
  { name: 'record', path: '/record?kind=VERDICT', ready: '.entry' },
  { name: 'access', path: '/access', ready: 'text=local-import', who: 'k.strand' },
  { name: 'account', path: '/account', ready: 'text=this one, now' },
  { name: 'help', path: '/help', ready: 'text=suspected cause' },
];

/** Looked at like the others, and not shown by the README. */
const WITHOUT_PICTURE = [
  'weights',
  LIST,
  'in-force-then',
  'carriers-in-force',
  'account',
  'search',
  'help',
  'known-exploited',
  'time-to-carry',
  'withheld',
  'forced',
  'digest',
];

async function open(page: Page, place: (typeof PLACES)[number]) {
  await signIn(page, place.who);
  await page.goto(place.path);
  await page.locator(place.ready).first().waitFor();
  await place.prepare?.(page);
  await page.waitForTimeout(400);
}

for (const place of PLACES) {
  test(`axe finds nothing serious, light and dark: ${place.name}`, async ({ page }) => {
    await open(page, place);
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme });
      await expect(page.locator('html')).toHaveAttribute('data-dark', String(colorScheme === 'dark'));
      // Rows are alike: sixteen of them tell what hundreds would, in a tenth of the time.
      const result = await new AxeBuilder({ page })
        .exclude('tbody > tr:nth-child(n+17)')
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
        .analyze();
      const serious = result.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
      expect(serious.map((v) => `${colorScheme} ${v.id}: ${v.nodes.map((n) => n.html).join(' | ')}`)).toEqual([]);
      // With LUCID_SCREENSHOTS=docs the pictures that the README shows are taken anew, from the demo's own data.
      if (process.env.LUCID_SCREENSHOTS === 'docs' && !WITHOUT_PICTURE.includes(place.name) && colorScheme === 'light') {
        await page.screenshot({ path: `../docs/screenshots/${place.name}.png` });
      }
    }
  });
}

test('no place scrolls sideways at 390 pixels, nor at 640, which is 1280 at 200 %', async ({ page }) => {
  let who: string | undefined = 'nobody yet';
  const wide: string[] = [];
  for (const place of [...PLACES].sort((a, b) => (a.who ?? '').localeCompare(b.who ?? ''))) {
    await page.setViewportSize({ width: 1280, height: 800 });
    if (place.who !== who) {
      await page.context().clearCookies();
      await signIn(page, place.who);
      who = place.who;
    }
    await page.goto(place.path);
    await page.locator(place.ready).first().waitFor();
    for (const width of [640, 390]) {
      await page.setViewportSize({ width, height: 800 });
      const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
      if (over > 0) {
        wide.push(`${place.name} at ${width}: ${over} pixels too wide`);
      }
    }
  }
  expect(wide).toEqual([]);
});

test('axe finds nothing serious in menus and dialogs', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/LNT-1107');
  await page.locator('.popname').first().waitFor();
  const check = async (what: string) => {
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme });
      await expect(page.locator('html')).toHaveAttribute('data-dark', String(colorScheme === 'dark'));
      const result = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
      const serious = result.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
      expect(serious.map((v) => `${what}, ${colorScheme}: ${v.id}: ${v.nodes.map((n) => n.html).join(' | ')}`)).toEqual([]);
    }
  };
  for (const [dialog, title] of [
    ['failure', 'Report the failure'],
    ['issue', 'Report the known issue'],
    ['note', 'Note it'],
    ['words', 'Write the note'],
  ]) {
    await page.goto(`/cases/LNT-1107?tell=${dialog}`);
    await expect(page.getByRole('dialog').locator('textarea, input').first()).toBeFocused();
    await check(title as string);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
  await page.getByRole('button', { name: /Aldane/ }).click();
  await page.getByRole('menuitem').first().waitFor();
  await check('menu of the person');
});

test('nine strips fit the docket at 1280 by 800', async ({ page }) => {
  await signIn(page);
  await page.goto('/docket');
  await page.locator('.strip').first().waitFor();
  const foot = (await page.locator('#legend').boundingBox())?.y ?? 0;
  const bottoms = await page.locator('.strip').evaluateAll((strips) => strips.map((s) => s.getBoundingClientRect().bottom));
  expect(bottoms.filter((bottom) => bottom <= foot).length).toBeGreaterThanOrEqual(9);
});

test('the case shows populations, sentence, consequence and button without scrolling', async ({ page }) => {
  await open(page, PLACES[1] as (typeof PLACES)[number]);
  const foot = (await page.locator('#legend').boundingBox())?.y ?? 0;
  const button = await page.getByRole('button', { name: 'Block on 17 hosts' }).boundingBox();
  expect((button?.y ?? 0) + (button?.height ?? 0)).toBeLessThan(foot);
  await expect(page.getByText('Proving bench').first()).toBeInViewport();
});

test('states add up to the population, in every row', async ({ page }) => {
  await open(page, PLACES.find((place) => place.name === 'carriers-of-one-update') as (typeof PLACES)[number]);
  const rows = await page.getByRole('table', { name: 'States by population' }).locator('tbody tr').allInnerTexts();
  expect(rows.length).toBe(10);
  for (const row of rows) {
    const numbers = row
      .split(/\s+/)
      .map(Number)
      .filter((n) => !Number.isNaN(n));
    const all = numbers.pop();
    expect(
      numbers.reduce((sum, n) => sum + n, 0),
      row,
    ).toBe(all);
  }
});
