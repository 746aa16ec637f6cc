import { expect, test, type Page } from '@playwright/test';
import { BENCH_TABS } from '../packages/web/src/bench/benchTabs.ts';
import { cascadeCurrent, expectAccessible, idOf, tickSounds } from './page.ts';
import { openBench } from './playing.ts';

/** Light alone in a quick run; both with LONG. */
const THEMES = process.env['LONG'] ? ['light', 'dark'] : ['light'];

/** Looks at a dialog or a menu, and closes it. */
async function lookAt(
  page: Page,
  role: 'dialog' | 'alertdialog' | 'menu',
  open: () => Promise<unknown>,
): Promise<void> {
  await open();
  await expect(page.getByRole(role)).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(page.getByRole(role)).toBeHidden();
}

for (const theme of THEMES) {
  test.describe(theme, () => {
    test.beforeEach(async ({ page }) => {
      await page.addInitScript((name) => localStorage.setItem('hexenkessel.theme', name), theme);
    });

    test('axe finds nothing in any view', async ({ page }) => {
      const chain = await idOf(page, 'chains', 'Lighthouse');
      const sound = await idOf(page, 'sounds', 'Foghorn');
      for (const path of [
        '/',
        '/library',
        '/sounds',
        `/sounds/${sound}`,
        '/reference',
        '/reference/echo',
        '/reference/script-example-gate',
        '/script/example-gate',
        `/sheet/${chain}`,
      ]) {
        await page.goto(path);
        await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
        await expect(page.getByText(/Loading|loading/)).toHaveCount(0);
        await expect(page.locator('html')).toHaveClass(new RegExp(theme));
        await expectAccessible(page);
      }
    });

    test('axe finds nothing in any tab, dialog or menu of the bench', async ({ page }) => {
      test.setTimeout(240_000);
      await openBench(page, await idOf(page, 'chains', 'Lighthouse'), await idOf(page, 'sounds', 'Foghorn'));
      await cascadeCurrent(page);
      for (const { title } of BENCH_TABS) {
        await page.getByRole('tab', { name: title }).click();
        await expectAccessible(page);
      }
      await page.getByRole('tab', { name: 'Stage' }).click();
      const button = (name: string | RegExp) => page.getByRole('button', { name }).first().click();
      await lookAt(page, 'dialog', () => button('Add a stage'));
      await lookAt(page, 'dialog', () => button('Blind A/B test'));
      await lookAt(page, 'dialog', () => button('Save version'));
      await lookAt(page, 'dialog', () => button('shortcuts'));
      await lookAt(page, 'menu', () => button('Copy or name slots'));
      await lookAt(page, 'dialog', async () => {
        await button('Copy or name slots');
        await page.getByRole('menuitem', { name: /^Name slot/ }).click();
      });
      await lookAt(page, 'menu', () => button(/^shelf: /));
      await lookAt(page, 'menu', () => button(/^Versions/));
      await lookAt(page, 'menu', () => button('Chain as a file'));
      await lookAt(page, 'menu', () => button(/^More for/));
      await page.getByRole('tab', { name: 'Modulation' }).click();
      await lookAt(page, 'menu', () => button('modulator'));
    });

    test('axe finds nothing in the dialogs of the sounds', async ({ page }) => {
      await page.goto('/sounds');
      await tickSounds(page, ['Foghorn', 'Wind harp']);
      for (const name of ['Render 2', 'Mix 2', 'Export 2'])
        await lookAt(page, 'dialog', () => page.getByRole('button', { name, exact: true }).click());
      await page.getByRole('button', { name: 'by lineage' }).click();
      await expectAccessible(page);
    });
  });
}
