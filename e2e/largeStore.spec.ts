/** A store with thousands of sounds: what is long is made when it is gone to, and found by words. */
import { expect, test, type Page } from '@playwright/test';
import { cascadeCurrent, idOf, watchFaults } from './page.ts';
import { openBench } from './playing.ts';

const MANY = 3000;
const names = Array.from({ length: MANY }, (_, n) => ({
  id: `many-${n}`,
  name: `Buoy ${String(n).padStart(4, '0')}`,
  kind: 'source',
  sha256: String(n).padStart(64, '0'),
}));

/** The list of names with thousands before those that are there. */
async function withMany(page: Page): Promise<void> {
  await page.route('**/api/sounds/names', async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, json: [...names, ...((await response.json()) as object[])] });
  });
}

test('a choice of thousands of sounds is made when it is gone to, by keys or pointer', async ({ page }) => {
  await withMany(page);
  await page.goto('/library');
  await expect(page.getByRole('button', { name: 'Open Tide Turning' })).toBeVisible();
  const choice = page.getByRole('combobox', { name: 'Sound to open with' });
  const options = choice.getByRole('option', { includeHidden: true });
  expect(await options.count()).toBe(1);
  await choice.focus();
  await expect(options).toHaveCount(
    MANY +
      1 +
      (await page.request.get('/api/sounds/names').then(async (answer) => ((await answer.json()) as object[]).length)),
  );
  await choice.selectOption({ label: 'Foghorn' });
  await expect(page).toHaveURL(/sound=/);
  await page.getByRole('button', { name: 'Open Tide Turning' }).click();
  await expect(page.getByRole('button', { name: /^shelf: Foghorn/ })).toBeVisible();
});

test('among thousands a sound for the shelf is found by its name', async ({ page }) => {
  const faults = watchFaults(page);
  await withMany(page);
  await openBench(page, await idOf(page, 'chains', 'Copper Dome'), await idOf(page, 'sounds', 'Tram bell'));
  await page.getByRole('button', { name: /^shelf: Tram bell/ }).click();
  const find = page.getByRole('textbox', { name: 'Find a sound for the shelf' });
  await find.fill('gulls');
  await expect(page.getByRole('menuitem', { name: /^Buoy/ })).toHaveCount(0);
  // A space and letters are a text here and choose nothing.
  await find.press('End');
  await find.press('Backspace');
  await expect(find).toHaveValue('gull');
  await page.getByRole('menuitem', { name: 'Crowd of gulls' }).last().click();
  await expect(page.getByRole('button', { name: /^shelf: Crowd of gulls/ })).toBeVisible();
  await cascadeCurrent(page);
  expect(faults).toEqual([]);
});

test('all that is found is chosen, those too that have not come yet', async ({ page }) => {
  const [first] = (await (await page.request.get('/api/sounds?limit=1')).json()) as object[];
  const sound = (n: number) => ({ ...first, ...names[n], kind: 'render' });
  await page.route(/\/api\/sounds\?.*find=buoy/, (route) =>
    route.fulfill({
      json: names.slice(0, 200).map((_, n) => sound(n)),
      headers: { 'X-Total-Count': '450', Link: '</api/sounds?limit=200&after=x>; rel="next"' },
    }),
  );
  await page.route(/\/api\/sounds\/names\?find=buoy/, (route) => route.fulfill({ json: names.slice(0, 450) }));
  await page.goto('/sounds?find=buoy');
  await expect(page.locator('[data-sound="Buoy 0000"]')).toBeVisible();
  const all = page.getByRole('checkbox', { name: 'Select all sounds found' });
  const square = page.locator('thead [data-part=control]');
  await square.click();
  await expect(page.getByRole('button', { name: 'Render 450' })).toBeVisible();
  await expect(all).toBeChecked();
  await square.click();
  await expect(page.getByRole('button', { name: 'Render', exact: true })).toBeDisabled();
});

test('a backup is put in place where nothing was done yet; the page goes on when the server is back', async ({
  page,
}) => {
  let sent = 0;
  let away = false;
  await page.route('**/api/storage', async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, json: { ...((await response.json()) as object), restorable: sent === 0 } });
  });
  await page.route('**/api/health', (route) => (away ? route.abort() : route.continue()));
  await page.route('**/api/restore', async (route) => {
    sent = route.request().postDataBuffer()?.length ?? 0;
    away = true;
    await route.fulfill({ status: 202, json: { made: '2026-11-29T10:00:00.000Z', sounds: 3 } });
  });
  await page.goto('/sounds');
  await expect(page.getByRole('button', { name: 'Restore a backup' })).toBeVisible();
  const backup = { name: 'museum.zip', mimeType: 'application/zip', buffer: Buffer.alloc(2000, 'PK') };
  await page.getByLabel('Backup', { exact: true }).setInputFiles(backup);
  await expect(page.getByText(/The server begins anew with the backup of/)).toBeVisible();
  await expect(page.getByText(/The server cannot be reached/)).toBeVisible();
  expect(sent).toBe(2000);
  away = false;
  await expect(page.getByText(/The server cannot be reached/)).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Restore a backup' })).toHaveCount(0);
});
