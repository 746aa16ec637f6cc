/** Chains and stages that leave as text and come in again. */
import { expect, test, type Page } from '@playwright/test';
import { cascadeCurrent, idOf, openEmpty } from './page.ts';

interface Chain {
  readonly id: string;
  readonly document: {
    readonly name: string;
    readonly stages: readonly {
      readonly id: string;
      readonly kind: string;
      readonly settings: Record<string, { sound?: string }>;
    }[];
    readonly modulators: readonly unknown[];
    readonly routes: readonly { readonly to: string }[];
    readonly lanes: readonly { readonly target: string }[];
  };
}
const chainOn = async (page: Page): Promise<Chain> => {
  const id = new URL(page.url()).pathname.split('/').at(-1)!;
  return (await (await page.request.get(`/api/chains/${id}`)).json()) as Chain;
};
const MOVED = {
  format: 'hexenkessel.chain',
  version: 2,
  name: 'Moved filter',
  stages: [
    { id: 'filter', kind: 'filter', settings: { cutoff: 700 } },
    { id: 'gain', kind: 'gain' },
  ],
  modulators: [{ id: 'lfo', kind: 'lfo' }],
  routes: [{ id: 'r', from: 'lfo', to: 'filter.cutoff', depth: 0.3 }],
  lanes: [{ target: 'filter.mix', curve: { over: 'clip', points: [{ at: 0, value: 1 }] } }],
};
const BELL = {
  format: 'hexenkessel.chain',
  version: 2,
  name: 'Rung',
  stages: [{ id: 'bell', kind: 'convolve', settings: { impulse: { sound: 'A bell nobody has' } } }],
};
const paste = (page: Page, text: string) =>
  page.evaluate((plain) => {
    const data = new DataTransfer();
    data.setData('text/plain', plain);
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('a stage is copied with what moves it and pasted behind another, with ids of its own; undo takes it out', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const { id } = (await (await page.request.post('/api/chains', { data: { document: MOVED } })).json()) as Chain;
  await page.goto(`/bench/${id}?sound=${await idOf(page, 'sounds', 'Foghorn')}`);
  await cascadeCurrent(page);
  await page.getByRole('button', { name: 'Stage as a file' }).click();
  await page.getByRole('menuitem', { name: 'Copy with lanes, routes and panel links' }).click();
  await expect(page.getByText('Filter is on the clipboard as text')).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  await paste(page, text);
  await expect(page.getByText('Filter came in; undo takes it out again.')).toBeVisible();
  await expect
    .poll(async () => (await chainOn(page)).document.stages.map((stage) => stage.id))
    .toEqual(['filter', 'filter2', 'gain']);
  const { document } = await chainOn(page);
  expect(document.modulators).toHaveLength(2);
  expect(document.routes.map(({ to }) => to)).toEqual(['filter.cutoff', 'filter2.cutoff']);
  expect(document.lanes.map(({ target }) => target)).toEqual(['filter.mix', 'filter2.mix']);
  await page.getByRole('button', { name: 'Undo: paste Filter' }).click();
  await expect
    .poll(async () => (await chainOn(page)).document.stages.map((stage) => stage.id))
    .toEqual(['filter', 'gain']);
});

test('faulty and oversized text changes nothing and says why', async ({ page }) => {
  await openEmpty(page, 'Quiet', 'Foghorn');
  const before = await chainOn(page);
  await page.getByRole('button', { name: 'Chain as a file' }).click();
  await page.getByRole('menuitem', { name: 'Paste stages …' }).click();
  const field = page.getByRole('textbox', { name: 'Chain as text' });
  const put = page.getByRole('button', { name: 'Put in behind the selected stage' });
  for (const [text, words] of [
    ['{"format":', 'not JSON'],
    [JSON.stringify({ ...MOVED, stages: [{ id: 'a', kind: 'wobble' }] }), 'no stage of kind "wobble"'],
    [JSON.stringify({ ...MOVED, about: { notes: 'x'.repeat(1_100_000) } }), 'at most 1048576 (1 MiB)'],
  ]) {
    await field.fill(text);
    await expect(page.getByRole('dialog').getByRole('alert')).toContainText(words);
    await expect(field).toHaveAttribute('aria-invalid', 'true');
    await expect(put).toBeDisabled();
  }
  await field.fill(JSON.stringify(MOVED));
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText(
    '“Moved filter”: 2 stages, 1 modulator, 1 lane.',
  );
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await paste(page, `{"format":"hexenkessel.chain","version":2,"name":"x","stages":7}`);
  await expect(page.getByText('Not pasted')).toBeVisible();
  await page.waitForTimeout(1200);
  expect((await chainOn(page)).document).toEqual(before.document);
});

test('a chain is pasted in the Library; a sound that it names and that is not here is listed, and another one chosen', async ({
  page,
}) => {
  await page.goto('/library');
  await page.getByRole('button', { name: 'Paste a chain' }).click();
  await page.getByRole('textbox', { name: 'Chain as text' }).fill(JSON.stringify(BELL));
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('One sound that it names is not here')).toBeVisible();
  await expect(dialog.getByText('impulse response of Convolution')).toBeVisible();
  await dialog.getByRole('combobox', { name: 'Instead of A bell nobody has' }).selectOption({ label: 'Tram bell' });
  await dialog.getByRole('button', { name: 'Open as a new chain' }).click();
  await cascadeCurrent(page);
  const { document } = await chainOn(page);
  expect(document.name).toBe('Rung');
  expect(document.stages[0].settings['impulse'].sound).toBe('Tram bell');
});
