/** Tables: sorted by any column, with the columns that one wants, of thousands those in sight. */
import { expect, test, type Page } from '@playwright/test';
import { expectAccessible } from './page.ts';

const firstNames = async (page: Page) => (await page.locator('tbody tr').allTextContents()).slice(0, 3);

test('the Library is sorted by any column and shows the columns that were chosen, also the next time', async ({
  page,
}) => {
  await page.goto('/library');
  await expect(page.getByRole('button', { name: 'Open Tide Turning' })).toBeVisible();
  const before = await firstNames(page);
  await page.getByRole('button', { name: 'rating' }).click();
  const rating = page.getByRole('columnheader', { name: /^rating/ });
  await expect(rating).toHaveAttribute('aria-sort', 'ascending');
  await page.getByRole('button', { name: 'rating' }).click();
  await expect(rating).toHaveAttribute('aria-sort', 'descending');
  await expect(page.locator('tbody tr').first()).toContainText('5 of 5');
  expect(await firstNames(page)).not.toEqual(before);
  await page.getByRole('button', { name: 'Choose columns' }).click();
  await expectAccessible(page);
  await page.getByRole('menuitemcheckbox', { name: 'tags' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('columnheader', { name: 'tags' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Open Tide Turning' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'tags' })).toHaveCount(0);
  await expect(page.locator('tbody tr').first()).toContainText('5 of 5');
  // Opened and gone back to, it is sorted as it was; by keys the column comes back.
  await page.getByRole('button', { name: 'Open Tide Turning' }).click();
  await expect(page.getByRole('button', { name: 'Add a stage' })).toBeVisible();
  await page.goBack();
  await expect(rating).toHaveAttribute('aria-sort', 'descending');
  await page.getByRole('button', { name: 'Choose columns' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitemcheckbox', { name: 'tags' })).toBeVisible();
  await page.keyboard.type('tags');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('columnheader', { name: 'tags' })).toBeVisible();
});

test('of two thousand chains only those in sight are there, the last too when it is gone to', async ({ page }) => {
  const [first] = (await (await page.request.get('/api/chains?limit=1')).json()) as object[];
  const asked: string[] = [];
  // Pages as the server gives them; what has come is counted by what was asked for.
  await page.route('**/api/chains?*', async (route) => {
    const query = new URL(route.request().url()).searchParams;
    const [begin, limit] = [Number(query.get('after') ?? 0), Number(query.get('limit'))];
    asked.push(`${query.get('sort') ?? ''} ${begin}`);
    const items = Array.from({ length: Math.min(limit, 2000 - begin) }, (_, n) => {
      const number = query.get('sort') === '-name' ? 1999 - begin - n : begin + n;
      return { ...first, id: `many-${number}`, name: `Buoy ${String(number).padStart(4, '0')}` };
    });
    const next = begin + items.length;
    const link = next < 2000 ? { Link: `</api/chains?limit=${limit}&after=${next}>; rel="next"` } : {};
    await route.fulfill({ json: items, headers: { 'X-Total-Count': '2000', ...link } });
  });
  await page.goto('/library');
  await expect(page.getByRole('button', { name: 'Open Buoy 0000' })).toBeVisible();
  expect(await page.locator('tbody tr').count()).toBeLessThan(80);
  await expect(page.getByRole('table')).toHaveAttribute('aria-rowcount', '2001');
  expect(asked).toEqual([' 0']);
  await page.getByRole('button', { name: 'chain', exact: true }).click();
  await page.getByRole('button', { name: /^chain ▴/ }).click();
  await expect(page.getByRole('button', { name: 'Open Buoy 1999' })).toBeVisible();
  await page.locator('table').evaluate((table) => table.parentElement!.scrollTo(0, 1e7));
  // The pages between come one after the other, each once.
  const last = page.getByRole('button', { name: 'Open Buoy 0000' });
  await expect(async () => {
    await page.locator('table').evaluate((table) => table.parentElement!.scrollTo(0, 1e7));
    await expect(last).toBeVisible({ timeout: 500 });
  }).toPass();
  expect(await page.locator('tbody tr').count()).toBeLessThan(80);
  expect(asked.filter((one) => one.startsWith('-name'))).toEqual(
    Array.from({ length: 10 }, (_, n) => `-name ${n * 200}`),
  );
});
