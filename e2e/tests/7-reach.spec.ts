import { expect, type Page, test } from '@playwright/test';
import { press, Session, signIn } from './product';

/** How a verdict reaches its hosts: in parts, by operator, by removing what is there; and rules that wait for others. */

const SENTENCE = (page: Page) => page.getByRole('region', { name: 'The verdict' });

async function released(analyst: Session, id: string, part: object = {}): Promise<void> {
  const { now } = await analyst.get('/api/clock');
  await analyst.document(
    'n.json',
    JSON.stringify({
      format: 'update-notice-1',
      id,
      title: `Desktop ${id}`,
      revision: '1',
      published: now,
      kind: 'bugfix',
      fixes: [{ product: 'pkg:generic/calculator', affected: [{ fixed: '990.0' }] }],
      ...part,
    }),
  );
}

test('a deferral ends in parts; a host is moved by name, and an operator is told what to do', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  await released(analyst, 'SKL-0011');
  await signIn(page);
  await page.goto('/cases/SKL-0011?verdict=DEFER&for=ticket-kiosks');
  const sentence = SENTENCE(page);
  await sentence.getByRole('combobox', { name: 'How it reaches them' }).press('Enter');
  await page.getByRole('option', { name: 'by operator, in parts' }).waitFor();
  await press(page, 'ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter');
  await expect(page).toHaveURL(/parts=3/);
  await expect(page).toHaveURL(/who=operator/);
  await sentence.getByLabel('Checklist for whoever runs them, one step each line').fill('Close the till');
  const parts = sentence.getByRole('list', { name: 'Parts of Ticket kiosks' });
  await expect(parts.getByText('57 hosts').first()).toBeVisible();
  await expect(parts.locator('li')).toHaveCount(3);
  await parts.locator('li').first().getByRole('button').click();
  const table = page.getByRole('table', { name: 'Hosts of part 1' });
  const moved = await table.locator('td').first().innerText();
  await table.getByRole('button', { name: `to part 3: ${moved}` }).click();
  await expect(parts.getByText('56 hosts')).toBeVisible();
  await expect(parts.getByText('58 hosts')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(table).toBeHidden();
  await press(page, 'Control+Enter');
  await expect(page.getByText('Defer on 171 hosts.')).toBeVisible();
  await expect(page.getByText(/deferred for Ticket kiosks, until .*, in 3 parts, by operator/)).toBeVisible();
  await expect(page.getByText('Close the till')).toBeVisible();
  await page.goto('/in-force?text=SKL-0011');
  await expect(page.getByText('deferred for Ticket kiosks, in 3 parts, by operator')).toBeVisible();
});

test('a block that removes says until when each host can', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  await released(analyst, 'SKL-0012', {
    removableDays: 30,
    fixes: [{ product: 'pkg:generic/lantern-desktop', affected: [{ fixed: '6.0.1' }] }],
  });
  await signIn(page);
  await page.goto('/cases/SKL-0012?verdict=BLOCK&for=ticket-kiosks&remove=yes');
  const sentence = SENTENCE(page);
  await expect(page.getByText('removable for 30 days after its install')).toBeVisible();
  await expect(sentence.getByText(/To be removed from \d+ hosts/)).toBeVisible();
  await expect(sentence.getByText('nobody tells until when it can be removed there')).toBeVisible();
  await expect(sentence.getByText('this does not remove it')).toHaveCount(0);
});

test('who cannot take an update is named with what they lack and can take instead, and nothing reaches them', async ({ page, request }) => {
  const analyst = await Session.of(request, 'm.aldane');
  await released(analyst, 'SKL-0041');
  await released(analyst, 'SKL-0042', {
    title: 'Desktop for new readers',
    requires: [{ trait: 'reader', oneOf: ['R2', 'R3'] }, { product: 'pkg:generic/calculator' }],
    fixes: [{ product: 'pkg:generic/calculator', affected: [{ fixed: '991.0' }] }],
  });
  await signIn(page);
  await page.goto('/cases/SKL-0042?verdict=FORCE&for=ticket-kiosks');
  const requires = page.getByRole('complementary').locator('section', { hasText: 'Requires' });
  await expect(requires).toContainText(/\d+ cannot take it/);
  await expect(requires).toContainText(/reader R2 or R3: \d+ hosts lack it/);
  await expect(requires).toContainText(/\d+ of them can take SKL-0041 instead, the newest that they lack/);
  await expect(page.getByText(/\d+ hosts not reached: still withheld: it lacks what this requires/)).toBeVisible();
  const { requires: told } = await analyst.get('/api/cases/SKL-0042');
  await page.goto(`/hosts/${told.cannotTake.names[0]}`);
  await expect(page.getByRole('row', { name: /SKL-0042/ })).toContainText('lacks reader R2 or R3, which it requires');
});

test('a rule may wait for the tries of the proving bench, and name a model', async ({ page }) => {
  await signIn(page);
  await page.goto('/populations?at=office-desktops&change=office-desktops');
  await page.getByLabel('Office desktops, rule 2: hosts').fill('model = S2');
  await page.getByRole('combobox', { name: 'Office desktops, rule 2: counted from' }).press('Enter');
  await page.getByRole('option', { name: 'enough tries of Proving bench' }).waitFor();
  await press(page, 'ArrowDown', 'Enter');
  await expect(page.getByLabel('Office desktops, rule 2: latest day')).toHaveValue('14');
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(
    page.getByText(
      /rated High or Critical, where model = S2, is offered 5 days after the tries of Proving bench have shown enough, at the latest 14 days after publication/,
    ),
  ).toBeVisible();
  await expect(page.getByText(/updates? offered or due otherwise than now/)).toBeVisible();
});
