import { expect, test } from '@playwright/test';
import { press, signIn } from './product';

/** The docket's row of a case. */
const row = (title: string) => ({ name: new RegExp(title) });

test('by keyboard only: look, narrow, decide, and find it again in Carriers and Record', async ({ page }) => {
  await signIn(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/cases need your judgement/);

  // Look: down to the display driver.
  const driver = page.getByRole('row', row('Gull Panel display driver'));
  await expect(driver).toBeVisible();
  const places = await page.locator('.strip').allInnerTexts();
  for (let at = places.findIndex((text) => text.startsWith('Gull Panel display driver')); at > 0; at--) {
    await page.keyboard.press('ArrowDown');
  }
  await expect(driver).toHaveAttribute('aria-current', 'true');
  // Decide: begin to block, narrow by a trait, hand down.
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Gull Panel display driver 4.40');
  await expect(page.getByText('Gate controllers', { exact: true })).toBeVisible();
  await press(page, 'b');
  await expect(page.getByRole('region', { name: 'The verdict' })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Populations' })).toBeFocused();
  await press(page, 'Tab');
  await expect(page.getByLabel('Narrowed to hosts where')).toBeFocused();
  await page.keyboard.type('model = G2');
  const hand = page.getByRole('button', { name: /^Block on \d+ hosts$/ });
  await expect(hand).toBeEnabled();
  await expect(hand).not.toHaveText('Block on 42 hosts');
  const effect = (await hand.textContent()) ?? '';
  const hosts = Number(/\d+/.exec(effect)?.[0]);
  expect(hosts).toBeGreaterThan(0);
  expect(page.url()).toContain('where=model');
  await press(page, 'Control+Enter');
  await expect(page.getByText(`Block on ${hosts} hosts.`)).toBeVisible();
  await expect(page.getByText('blocked for Gate controllers where model = G2')).toBeVisible();
  await expect(page.getByRole('region', { name: 'The verdict' })).toHaveCount(0);

  // Carriers: the same hosts are withheld by the block, the others are not.
  await press(page, 'Enter');
  await expect(page).toHaveURL(/carriers\/GUL-0440\?population=gate-controllers/);
  const blocked = page.getByRole('button', { name: /^blocked until/ });
  await expect(blocked).toHaveCount(hosts);

  // Record: the sentence stands there. The case stays on the docket for the hosts that the block does not cover.
  await page.goto('/record?subject=GUL-0440');
  await expect(page.getByText(/Blocked GUL-0440 revision 1 for Gate controllers where model = G2 until .*: \d+ hosts\./)).toBeVisible();
  await page.goto('/docket');
  await expect(page.getByRole('row', row('Fathom libtls'))).toBeVisible();
  await expect(page.getByRole('row', row('Gull Panel display driver')).locator('.why')).toContainText('Still open: ');
  // Leaving the rest to the rule is not what the numbers suggest: that is said, and asked once more.
  await page.goto('/cases/GUL-0440');
  await expect(page.getByText('blocked for Gate controllers where model = G2')).toBeVisible();
  await press(page, 'l');
  await expect(page.getByText(/^The numbers suggest block.*Press L once more/)).toBeVisible();
  await press(page, 'l');
  await expect(page.getByText('GUL-0440 is left to the rule.')).toBeVisible();
  await page.goto('/docket');
  await expect(page.getByRole('row', row('Fathom libtls'))).toBeVisible();
  await expect(page.getByRole('row', row('Gull Panel display driver'))).toHaveCount(0);
  await page.goto('/docket?show=answered');
  await expect(page.getByRole('row', row('Gull Panel display driver'))).toBeVisible();
});

test('what is being worded stands in the address and survives a reload; Escape leaves it', async ({ page }) => {
  await signIn(page, 'm.aldane', '/cases/LNT-1107');
  await expect(page.getByText('Ticket kiosks').first()).toBeVisible();
  await press(page, 'b');
  await expect(page.getByRole('combobox', { name: 'Populations' })).toBeFocused();
  await press(page, 'Tab');
  await page.keyboard.type('reader = R2 and spool_free_mb < 300');
  await expect(page.getByRole('button', { name: 'Block on 17 hosts' })).toBeEnabled();
  // The address follows what is typed after a moment.
  await expect(page).toHaveURL(/spool_free_mb/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Block on 17 hosts' })).toBeEnabled();
  await expect(page.getByLabel('Narrowed to hosts where')).toHaveValue('reader = R2 and spool_free_mb < 300');
  await expect(page.getByText('ksk-010, ksk-032, ksk-034 and 14 more')).toBeVisible();
  // A fault is marked where it is.
  await page.getByLabel('Narrowed to hosts where').fill('reader = R2 and');
  await expect(page.getByRole('alert')).toContainText('expected the name of a trait, found the end');
  await expect(page.getByRole('button', { name: /^Block on/ })).toBeDisabled();
  await press(page, 'Escape');
  await expect(page.getByRole('region', { name: 'The verdict' })).toHaveCount(0);
  await press(page, 'Escape');
  await expect(page).toHaveURL(/docket\?at=LNT-1107/);
});

test('several cases are left to the rule in a few keys, and one key takes it back', async ({ page }) => {
  await signIn(page);
  const title = page.getByRole('heading', { level: 1 });
  await expect(page.getByRole('row', row('Fathom kernel'))).toBeVisible();
  const before = await page.locator('.strip').count();
  await press(page, 'End', 'Space', 'ArrowUp', 'Space');
  await expect(page.getByText('2 chosen')).toBeVisible();
  await press(page, 'l');
  await expect(page.locator('.strip')).toHaveCount(before - 2);
  await press(page, 'u');
  await expect(page.locator('.strip')).toHaveCount(before);
  await expect(title).toHaveText(/cases need your judgement/);
});

test('a force goes over a block only when it names it', async ({ page }) => {
  await signIn(page);
  await page.goto('/cases/LNT-7000?verdict=FORCE&for=office-desktops');
  await expect(page.getByText(/151 hosts not reached: still blocked until/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Force on 0 hosts' })).toBeVisible();
  await page.getByRole('checkbox', { name: /Knowingly override 1 block/ }).click();
  await expect(page.getByRole('button', { name: 'Force on 151 hosts' })).toBeEnabled();
  // A new release wants a second press.
  await press(page, 'Control+Enter');
  await expect(page.getByText('This lets hosts move to a new release.')).toBeVisible();
  await press(page, 'Escape');
});

test('a reader sees everything and decides nothing', async ({ page }) => {
  await signIn(page, 'j.fenn');
  await page.goto('/cases/LNT-1107');
  await expect(page.getByText('Ticket kiosks').first()).toBeVisible();
  await press(page, 'b');
  await expect(page.getByRole('region', { name: 'The verdict' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: /Block/ })).toHaveCount(0);
  await page.goto('/intake');
  await expect(page.getByRole('button', { name: 'Choose files' })).toHaveCount(0);
});
