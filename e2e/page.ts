import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Locator, type Page } from '@playwright/test';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Violation {
  readonly id: string;
  readonly nodes: readonly { readonly html: string }[];
}

const RULES = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** Nothing is found by axe on the page as it stands. */
export async function expectAccessible(page: Page): Promise<void> {
  // A colour on its way from one to the other is neither.
  await page.waitForFunction(() =>
    document
      .getAnimations()
      .every((one) => one.playState !== 'running' || one.effect?.getComputedTiming().iterations === Infinity),
  );
  await page.evaluate(axe);
  const found = async () => {
    const violations = await page.evaluate(async (values) => {
      const { run } = (window as unknown as { axe: { run: (how: object) => Promise<{ violations: Violation[] }> } })
        .axe;
      return (await run({ runOnly: { type: 'tag', values } })).violations;
    }, RULES);
    return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 200)).join(' | ')}`);
  };
  // What has just come may begin to fade in after the first look; one look alone takes seconds on a busy machine.
  await expect.poll(found, { timeout: 30_000 }).toEqual([]);
}

/** Collects what the page complains about. */
export function watchFaults(page: Page): string[] {
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of 4(09|22)/.test(message.text())) faults.push(message.text());
  });
  return faults;
}

/** Drops a file onto the first drop area, as from the desktop. */
export async function dropFile(page: Page, name: string, bytes: Buffer): Promise<void> {
  const data = await page.evaluateHandle(
    ({ encoded, fileName }) => {
      const content = Uint8Array.from(atob(encoded), (character) => character.charCodeAt(0));
      const transfer = new DataTransfer();
      transfer.items.add(new File([content], fileName, { type: 'audio/wav' }));
      return transfer;
    },
    { encoded: bytes.toString('base64'), fileName: name },
  );
  await page.getByTestId('drop-area').dispatchEvent('drop', { dataTransfer: data });
}

/** Adds a stage by what is typed. */
export async function addStage(page: Page, words: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a stage' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill(words);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}

/** Waits until every row of the Cascade shows the chain as it is. */
export async function cascadeCurrent(page: Page): Promise<void> {
  await expect(page.getByTestId('measures')).toContainText(/LUFS · \d+ ms/);
  await expect(page.locator('[data-stale=true]')).toHaveCount(0);
}

export interface Named {
  readonly id: string;
  readonly name: string;
}

export async function idOf(page: Page, kind: 'chains' | 'sounds', name: string): Promise<string> {
  // Lists come by pages; what was there first is on the last.
  const all = (await (await page.request.get(`/api/${kind}?find=${encodeURIComponent(name)}`)).json()) as Named[];
  const found = all.find((entry) => entry.name === name);
  if (!found) throw new Error(`there is no "${name}"`);
  return found.id;
}

/** A new chain without stages, on a sound. */
export async function openEmpty(page: Page, name: string, sound: string): Promise<void> {
  const document = { format: 'hexenkessel.chain', version: 1, name, render: { tail: { mode: 'none' } } };
  const { id } = (await (await page.request.post('/api/chains', { data: { document } })).json()) as Named;
  await page.goto(`/bench/${id}?sound=${await idOf(page, 'sounds', sound)}`);
  await cascadeCurrent(page);
}

/** Opens a group of a stage's parameters. */
export async function openGroup(page: Page, title: string): Promise<void> {
  await page
    .locator('[data-group-head]')
    .filter({ hasText: new RegExp(`^${title}`) })
    .click();
}

export async function audioOf(page: Page, id: string, query = ''): Promise<Buffer> {
  return (await page.request.get(`/api/sounds/${id}/audio${query}`)).body();
}

/** Renders what is on the bench and gives the new sound's id. */
export async function renderHere(page: Page, button: string): Promise<string> {
  const before = await page.locator('[data-render=done]').count();
  await page.getByRole('button', { name: button, exact: true }).click();
  await expect(page.locator('[data-render=done]')).toHaveCount(before + 1);
  const [newest] = (await (await page.request.get('/api/renders')).json()) as { soundId: string }[];
  return newest.soundId;
}

/** Marks a region in the Render tab and says that it is what gets rendered. */
export async function markRegion(page: Page, from: string, to: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Range' }).selectOption('region');
  for (const [name, value] of [
    ['Region end', to],
    ['Region start', from],
  ]) {
    const field = page.getByRole('tabpanel').getByRole('textbox', { name });
    await field.fill(value);
    await field.press('Enter');
  }
}

/** Ticks sounds in their table. */
export async function tickSounds(page: Page, names: readonly string[]): Promise<void> {
  for (const name of names) {
    const row = page.getByText(name, { exact: true }).locator('xpath=ancestor::tr');
    // The square that is seen, not the input that is hidden behind it: pressed once it stands still and nothing covers it.
    await row.locator('[data-part=control]').click();
    await expect(row.getByRole('checkbox')).toBeChecked();
  }
}

/** Waits for the render that was asked for last and gives its file. */
export async function finishedRender(page: Page, query = ''): Promise<Buffer> {
  await expect(page.locator('[data-render=done]')).toHaveCount(1, { timeout: 60_000 });
  const [newest] = (await (await page.request.get('/api/renders')).json()) as { soundId: string }[];
  return audioOf(page, newest.soundId, query);
}

/** A new script in the Script view, with an empty text if that is wanted. Gives its editor. */
export async function openNewScript(page: Page, how?: 'empty'): Promise<Locator> {
  await page.goto('/script');
  await page.getByRole('button', { name: 'New script' }).click();
  await expect(page).toHaveURL(/\/script\/[0-9A-Z]{26}$/);
  const editor = page.getByRole('textbox', { name: 'Text of the script' });
  await editor.click();
  await page.keyboard.press(how === 'empty' ? 'Control+a' : 'Control+End');
  if (how === 'empty') await page.keyboard.press('Delete');
  return editor;
}
