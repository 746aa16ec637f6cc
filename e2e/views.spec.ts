/** Tasks that go through several views in one page, without reloading it: no view shows or sends an older copy. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import Database from 'better-sqlite3';
import {
  addStage,
  audioOf,
  cascadeCurrent,
  dropFile,
  expectAccessible,
  idOf,
  markRegion,
  openEmpty,
  renderHere,
  tickSounds,
  watchFaults,
  type Named,
} from './page.ts';
import { newChain, openBench, play, setValue } from './playing.ts';
import { readWav, steadyTone, testSound } from './sounds.ts';

const go = (page: Page, view: string) => page.getByRole('link', { name: view, exact: true }).click();

/** Chooses sounds in their table and opens the dialog to render them through a chain. */
async function renderFromSounds(page: Page, names: readonly string[], chain: string): Promise<void> {
  await go(page, 'Sounds');
  await tickSounds(page, names);
  await page.getByRole('button', { name: `Render ${names.length}` }).click();
  await page.getByRole('dialog').getByRole('combobox', { name: 'Chain' }).selectOption({ label: chain });
}

const loudest = async (page: Page, id: string) =>
  readWav(await audioOf(page, id, '?depth=32f')).size.reduce((most, size) => Math.max(most, size), 0);

test('sounds rendered from their list go through the chain as it was left a moment ago', async ({ page }) => {
  const faults = watchFaults(page);
  for (const name of ['Steady one', 'Steady two'])
    await page.request.post(`/api/sounds?name=${encodeURIComponent(name)}`, { data: steadyTone() });
  const names = ['Steady one', 'Steady two'];
  // The list looks at the chain once before it is changed, so that an old copy lies there.
  await openEmpty(page, 'Left just now', names[0]);
  await renderFromSounds(page, names, 'Left just now');
  await expect(page.getByRole('dialog').getByText(/Takes a moment/)).toBeVisible();
  await page.keyboard.press('Escape');
  await go(page, 'Library');
  await page.getByRole('button', { name: 'Open Left just now' }).click();
  await addStage(page, 'louder');
  await setValue(page, 'gain', '-20 dB');
  // Straight on, before the draft is kept by itself.
  await renderFromSounds(page, names, 'Left just now');
  await page.getByRole('dialog').getByRole('button', { name: 'Render 2' }).click();
  for (const name of names) {
    await expect(page.locator(`[data-sound="${name} – Left just now"]`)).toBeVisible();
    expect(await loudest(page, await idOf(page, 'sounds', `${name} – Left just now`))).toBeCloseTo(0.025, 3);
  }
  expect(faults).toEqual([]);
});

test('what is rendered on the bench is what was typed last, before it was kept by itself', async ({ page }) => {
  await page.request.post('/api/sounds?name=Steady%20three', { data: steadyTone() });
  await openEmpty(page, 'Typed last', 'Steady three');
  await addStage(page, 'louder');
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('tab', { name: 'Stage' }).click();
  // Slow enough that the saving by itself comes due while the one for the render is under way.
  await page.route('**/api/chains/*/draft', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1200));
    await route.continue();
    await page.unroute('**/api/chains/*/draft');
  });
  await page.route('**/api/renders', async (route) => {
    if (route.request().method() === 'POST') await new Promise((resolve) => setTimeout(resolve, 500));
    await route.continue();
  });
  await setValue(page, 'gain', '-14 dB');
  await page.getByRole('tab', { name: 'Render' }).click();
  expect(await loudest(page, await renderHere(page, 'Render'))).toBeCloseTo(0.25 * 10 ** (-14 / 20), 3);
});

test('a chain that is left and opened again is as it was left, however long its saving takes; its sheet too', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Slowly kept', 'Tram bell');
  await addStage(page, 'louder');
  await expect(page.getByText(/draft saved/)).toBeVisible();
  await page.route('**/api/chains/*/draft', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await setValue(page, 'gain', '-9 dB');
  await go(page, 'Library');
  await page.getByRole('button', { name: 'Open Storm Glass' }).click();
  await expect(page.locator('[data-row=Veil]')).toBeVisible();
  await go(page, 'Library');
  await page.getByRole('button', { name: 'Open Slowly kept' }).click();
  await expect(page.getByRole('textbox', { name: 'gain, value', exact: true })).toHaveValue('−9 dB');
  await setValue(page, 'gain', '-5 dB');
  await page.getByRole('link', { name: 'Sheet', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Sheet' }).getByText('−5 dB').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Sheet' }).getByText('−9 dB')).toHaveCount(0);
  expect(faults).toEqual([]);
});

test('a chain that another window has changed is shown before it is rendered', async ({ page }) => {
  const id = await newChain(page, 'Two windows', { render: { tail: { mode: 'none' } } });
  const bell = await idOf(page, 'sounds', 'Tram bell');
  await openBench(page, id, bell);
  const theirs = (await (await page.request.get(`/api/chains/${id}`)).json()) as { revision: number; document: object };
  await page.request.put(`/api/chains/${id}/draft`, {
    data: { revision: theirs.revision, document: { ...theirs.document, stages: [{ id: 'back', kind: 'reverse' }] } },
  });
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  await expect(page.getByText('Changed in another window')).toBeVisible();
  await expect(page.locator('[data-stage]')).toHaveCount(1);
  await expect(page.locator('[data-render]')).toHaveCount(0);
  await page.getByRole('tab', { name: 'Render' }).click();
  await renderHere(page, 'Render');
});

test('a region and what is rendered belong to the chain on its sound; the render says what it covers', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Marked', 'Boiler-room drums');
  await page.getByRole('tab', { name: 'Render' }).click();
  const what = page.getByRole('combobox', { name: 'Range' });
  await markRegion(page, '1.25 s', '1.45 s');
  const panel = page.getByRole('tabpanel');
  const made = await renderHere(page, 'Render and splice');
  const entry = page.locator('[data-render=done]').first();
  await expect(entry).toContainText('Boiler-room drums – Marked (1.25–1.45 s)');
  await expect(entry).toContainText('region 1.25 s to 1.45 s, spliced back');

  // The next sound on the shelf is whole, and so is this one under another chain.
  const whole = async () => {
    await expect(page.getByRole('textbox', { name: 'Region start' }).first()).toHaveValue('start');
    await page.getByRole('tab', { name: 'Render' }).click();
    await expect(what).toHaveValue('whole');
  };
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'The next sound on the shelf' }).click();
  await cascadeCurrent(page);
  await whole();
  await page.getByRole('button', { name: 'The sound before it on the shelf' }).click();
  await expect(what).toHaveValue('region');
  await go(page, 'Library');
  await page.getByRole('combobox', { name: 'Sound to open with' }).selectOption({ label: 'Boiler-room drums' });
  await page.getByRole('button', { name: 'Open Storm Glass' }).click();
  await cascadeCurrent(page);
  await whole();
  await page.goBack();
  await page.getByRole('button', { name: 'Open Marked' }).click();
  await page.getByRole('tab', { name: 'Render' }).click();

  // On the sound's own page it is said too, and restored from there it is marked again.
  await page.goto(`/sounds/${made}`);
  await expect(page.getByText('1.25 s to 1.45 s, spliced back')).toBeVisible();
  await page.getByRole('link', { name: 'Restore' }).click();
  await page.getByRole('tab', { name: 'Render' }).click();
  await expect(panel.getByRole('textbox', { name: 'Region start' })).toHaveValue('1.25 s');

  // A button that cannot be pressed says why.
  await page.getByRole('button', { name: 'clear region' }).click();
  const button = page.getByRole('button', { name: 'Render and splice' });
  await expect(button).toBeDisabled();
  await expect(page.getByText('No region is marked. Drag along the ruler')).toBeVisible();
  await expect(button).toHaveAccessibleDescription(/No region is marked/);
  expect(faults).toEqual([]);
});

test('the menu of every row can be seen whole, whatever stands in the panel', async ({ page }) => {
  await openBench(page, await idOf(page, 'chains', 'Lighthouse'), await idOf(page, 'sounds', 'Foghorn'));
  const buttons = await page.getByRole('button', { name: /^More for/ }).all();
  expect(buttons.length).toBeGreaterThan(5);
  for (const button of buttons) {
    await button.click();
    const menu = page.getByRole('menu');
    await expect(menu).toBeVisible();
    await expect
      .poll(async () => {
        const { x, y, width, height } = (await menu.boundingBox())!;
        return x >= 0 && y >= 0 && x + width <= 1280 && y + height <= 800;
      })
      .toBe(true);
    await page.keyboard.press('Escape');
    await expect(menu).toBeHidden();
  }
  await page.getByRole('button', { name: 'More for dry/wet mix' }).click();
  await page.getByRole('menuitem', { name: 'Pin to a new control' }).click();
  await expect(page.getByTestId('panel-strip').getByRole('slider')).toHaveCount(3);
  await page.keyboard.press('Control+z');
});

test('a chain that cannot be read is an entry with its fault, and everything else goes on', async ({ page }) => {
  const id = await newChain(page, 'Cannot be read', {});
  const database = new Database('test-results/data/hexenkessel.sqlite');
  database.prepare('UPDATE drafts SET document = ? WHERE chain_id = ?').run('{"stages":', id);
  database.close();
  await page.goto('/library');
  const entry = page.locator('[data-unreadable="Cannot be read"]');
  await expect(entry).toContainText('What is stored of it is no JSON');
  await expect(page.getByRole('button', { name: 'Open Storm Glass' })).toBeVisible();
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await entry.getByRole('link', { name: /^Download/ }).click();
  expect(readFileSync(await (await download).path()).includes('{"stages":')).toBe(true);
  await go(page, 'Sounds');
  await expect(page.getByText('Tram bell', { exact: true })).toBeVisible();
  expect(await page.getByText(/Could not load/).count()).toBe(0);
  await go(page, 'Library');
  await entry.getByRole('button', { name: 'Delete Cannot be read' }).click();
  await entry.getByRole('button', { name: 'Delete for good' }).click();
  await expect(entry).toHaveCount(0);
});

test('an imported sound is on the bench at once, and nothing is said of one that is gone', async ({ page }) => {
  const faults = watchFaults(page);
  await page.goto('/');
  await expect(page.getByText('Foghorn')).toBeVisible();
  // The list comes late, as it does when much is in it.
  await page.route(/\/api\/sounds(\/names)?(\?|$)/, async (route) => {
    if (route.request().method() === 'GET') await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await dropFile(page, 'Dropped tones.wav', testSound());
  await expect(page).toHaveURL(/\/bench\/\w+\?sound=\w+/);
  // At once and not by waiting: a message goes away by itself.
  const told = async () => page.locator('[data-scope=toast][data-part=root]').allInnerTexts();
  expect(await told()).toEqual([]);
  await cascadeCurrent(page);
  await expect(page.getByRole('button', { name: /^shelf: Dropped tones/ })).toBeVisible();
  expect(await told()).toEqual([]);
  expect(faults).toEqual([]);
});

test('modulated stages leave while they play: row heard, switched, removed, undone, and the sound goes on', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openBench(page, await idOf(page, 'chains', 'Breathing Fog'), await idOf(page, 'sounds', 'Boiler-room drums'));
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await play(page);
  const line = page.getByTestId('play-line');
  const goesOn = async () => {
    const before = await line.getAttribute('style');
    await expect.poll(() => line.getAttribute('style')).not.toBe(before);
    expect(await page.getByText('Sound stopped').count()).toBe(0);
  };
  await expect(line).toBeVisible();
  await page.getByRole('button', { name: 'Play the sound up to Boiler-room drums' }).click();
  await goesOn();
  await page
    .getByRole('button', { name: 'Play the render' })
    .or(page.getByRole('button', { name: /^Play the sound up to/ }))
    .last()
    .click();
  await goesOn();
  for (const button of [/ off$/, /^Remove /]) {
    await page.locator('[data-stage]').first().getByRole('button', { name: button }).first().click();
    await goesOn();
    await page.keyboard.press('Control+z');
    await goesOn();
  }
  await expect(page.getByTestId('over')).not.toContainText('fault');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByRole('button', { name: 'Loop off' }).click();
  expect(faults).toEqual([]);
});

test('a chain is there with the first thing done to it, and is asked for its name when something is called after it', async ({
  page,
}) => {
  const faults = watchFaults(page);
  const names = async () =>
    ((await (await page.request.get('/api/chains?limit=500')).json()) as Named[]).map(({ name }) => name);
  const before = await names();
  await page.goto('/');
  await page.getByRole('button', { name: 'Begin with Tram bell' }).click();
  await cascadeCurrent(page);
  await expect(page.getByText('nothing to save yet')).toBeVisible();
  // Looked at and left again: nothing is in any list.
  await go(page, 'Library');
  await expect(page.getByRole('button', { name: 'Open Storm Glass' })).toBeVisible();
  expect(await names()).toEqual(before);
  await page.goBack();
  await cascadeCurrent(page);
  await page.reload();
  await cascadeCurrent(page);
  await addStage(page, 'church');
  await addStage(page, 'muffled');
  await expect(page.getByText('draft saved')).toBeVisible();
  expect((await names()).filter((name) => name === 'New chain')).toHaveLength(
    before.filter((name) => name === 'New chain').length + 1,
  );
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  const name = page.getByRole('dialog').getByRole('textbox', { name: 'Name of the new chain' });
  await expect(name).toHaveValue('Hall reverb, Filter');
  await expectAccessible(page);
  await name.fill('Bell tower');
  await name.press('Enter');
  await expect(page.locator('[data-render=done]')).toContainText('Tram bell', { timeout: 30_000 });
  await expect(page.locator('[data-render=done]')).toContainText('Tram bell – Bell tower');
  await expect(page.getByRole('textbox', { name: 'Name of the chain', exact: true })).toHaveValue('Bell tower');
  expect(await names()).toContain('Bell tower');
  // It is asked once only.
  await page.getByRole('button', { name: 'Save version' }).click();
  await expect(page.getByRole('dialog').getByRole('textbox')).toHaveCount(1);
  expect(faults).toEqual([]);
});

test('a chain opens on the sound it was made on, unless another one is chosen', async ({ page }) => {
  await page.goto('/library');
  await page.getByRole('button', { name: 'Open Mooring Line' }).click();
  await cascadeCurrent(page);
  await expect(page.getByRole('button', { name: /^shelf: Pier bass line/ })).toBeVisible();
  await go(page, 'Library');
  await page.getByRole('combobox', { name: 'Sound to open with' }).selectOption({ label: 'Tram bell' });
  await page.getByRole('button', { name: 'Open Mooring Line' }).click();
  await cascadeCurrent(page);
  await expect(page.getByRole('button', { name: /^shelf: Tram bell/ })).toBeVisible();
  // What stands in its loop finds a chain, too.
  await go(page, 'Library');
  await page.getByRole('textbox', { name: 'Find chains' }).fill('undertow spring');
  await expect(page.getByRole('row')).toHaveCount(2);
  await expect(page.getByRole('button', { name: 'Open Undertow' })).toBeVisible();
});

test('a finished render is played, renamed, opened and deleted where it appears', async ({ page }) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Onward', 'Tram bell');
  await addStage(page, 'backwards');
  await page.getByRole('tab', { name: 'Render' }).click();
  const made = await renderHere(page, 'Render');
  const entry = page.locator('[data-render=done]');
  await entry.getByRole('button', { name: /^Play / }).click();
  await expect(entry.getByRole('button', { name: /^Stop / })).toHaveAttribute('aria-pressed', 'true');
  // The chain takes over from it.
  await play(page);
  await expect(entry.getByRole('button', { name: /^Play / })).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await entry.getByRole('button', { name: /^Rename / }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Rung back');
  await page.keyboard.press('Enter');
  const link = entry.getByRole('link', { name: 'Rung back', exact: true });
  await expect(link).toHaveAttribute('draggable', 'true');
  await expectAccessible(page);
  await link.click();
  await expect(page.getByRole('textbox', { name: 'Name of the sound' })).toHaveValue('Rung back');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop Rung back' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play Rung back' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Begin a chain on it' }).click();
  await expect(page).toHaveURL(new RegExp(`/bench/\\w+\\?sound=${made}`));
  await cascadeCurrent(page);
  await page.goBack();
  await page.goBack();
  await cascadeCurrent(page);
  await page.getByRole('tab', { name: 'Render' }).click();
  await entry.getByRole('button', { name: 'Delete Rung back' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete for good' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  expect((await page.request.get(`/api/sounds/${made}`)).status()).toBe(404);
  expect(faults).toEqual([]);
});
