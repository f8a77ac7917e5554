import { expect, test } from '@playwright/test';
import { signIn } from './product';

test('a provider is fetched by itself: what its key signed is a case, what was altered is held with the reason', async ({ page }) => {
  await signIn(page);
  await page.goto('/intake');
  const provider = page.getByRole('table', { name: 'Feeds' }).getByRole('row', { name: /Fathom advisories/ });
  await expect(provider).toContainText(/1 taken, 1 held because they are not trusted|nothing new/);
  await page.goto('/intake?outcome=REJECTED');
  const held = page.getByRole('row', { name: /ftm-0892\.json/ });
  await expect(held).toContainText('held: not trusted');
  await expect(held).toContainText('it was changed after it was signed');
  await expect(held.getByRole('button', { name: /Try/ })).toHaveCount(0);
  await page.goto('/cases/FTM-0891');
  await expect(page.getByText(/verified, key …[0-9A-F]{8}/)).toBeVisible();
  await page.goto('/intake');
  await provider.getByRole('button', { name: 'Fetch now' }).click();
  await expect(page.getByText('Fathom advisories: nothing new')).toBeVisible();
});
