/** Stages of one’s own: written by typing, heard, put into a chain, rendered and measured. */
import { expect, test, type Page } from '@playwright/test';
import {
  audioOf,
  cascadeCurrent,
  expectAccessible,
  idOf,
  openEmpty,
  openNewScript,
  renderHere,
  watchFaults,
  type Named,
} from './page.ts';
import { play, setValue, stop } from './playing.ts';
import { heardAfter, installRecorder, rms } from './recorder.ts';
import { level, samplesOf, steadyTone } from './sounds.ts';

/** Each line closes what it opens: the editor closes brackets as they are typed. */
const LINES = [
  'export const language = 1;',
  "export const title = 'Lamp post';",
  "export const family = 'dynamics';",
  "export const summary = 'Makes the sound softer.';",
  "export const keywords = ['dimmer'];",
  "export const params = { amount: ratio({ default: 0.5, doc: 'How loud it is.' }) };",
  'export function channel() { return (x, p) => x * p.amount; }',
];

async function takeTone(page: Page): Promise<void> {
  const taken = await page.request.post('/api/sounds?name=Steady tone', {
    headers: { 'content-type': 'application/octet-stream' },
    data: steadyTone(),
  });
  expect(taken.status()).toBe(201);
}

const compiled = (page: Page, how: 'yes' | 'no') => expect(page.locator(`[data-compiled=${how}]`)).toBeVisible();
/** How loud what is heard is, once what was changed has settled. */
const loudness = async (page: Page) => rms((await heardAfter(page, 0.3, 0.3))[0]);
/** dB of a sine of a quarter of full scale. */
const TONE = -15.05;

test.describe('heard', () => {
  test.use({ bypassCSP: true });

  test('a script is typed, heard, broken, mended, turned, put into a chain, rendered and measured', async ({
    page,
  }) => {
    test.setTimeout(180_000);
    const faults = watchFaults(page);
    await installRecorder(page);
    await page.goto('/');
    await takeTone(page);
    const editor = await openNewScript(page, 'empty');
    for (const line of LINES) {
      await page.keyboard.type(line);
      await page.keyboard.press('Enter');
    }
    await compiled(page, 'yes');
    const stage = page.getByRole('region', { name: 'The stage' });
    await expect(stage.getByRole('heading', { name: 'Lamp post' })).toBeVisible();
    await expect(stage.locator('[data-picture]')).toHaveCount(2);
    await page.getByRole('combobox', { name: 'Sound to try it on' }).selectOption({ label: 'Steady tone' });
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    expect(Math.abs((await loudness(page)) - (TONE - 6.02))).toBeLessThan(0.1);

    await test.step('broken: told with its place, and the last text sounds on', async () => {
      await editor.click();
      await page.keyboard.press('Control+End');
      await page.keyboard.type('const lamp = filtre(2);');
      await compiled(page, 'no');
      const told = page.getByRole('group', { name: 'Faults' });
      await expect(told).toContainText(`line ${LINES.length + 1}`);
      await expect(told).toContainText('is heard');
      expect(Math.abs((await loudness(page)) - (TONE - 6.02))).toBeLessThan(0.1);
    });

    await test.step('mended, and made twice as loud', async () => {
      await page.keyboard.press('Home');
      await page.keyboard.press('Shift+End');
      await page.keyboard.press('Delete');
      await compiled(page, 'yes');
      await page.keyboard.press('ArrowUp');
      await page.keyboard.press('End');
      for (let n = 0; n < 3; n++) await page.keyboard.press('ArrowLeft');
      await page.keyboard.type(' * 2');
      await compiled(page, 'yes');
      expect(Math.abs((await loudness(page)) - TONE)).toBeLessThan(0.1);
      await expect(page.locator('[data-readings]')).toContainText(/DSP load \d+ % · heard \d+ ms after the last key/);
    });

    await test.step('turned while it sounds', async () => {
      await setValue(page, 'amount', '25 %');
      expect(Math.abs((await loudness(page)) - (TONE - 6.02))).toBeLessThan(0.1);
    });

    await expect(page.locator('[data-keeping=kept]')).toBeVisible();
    await page.getByRole('button', { name: 'Use in a new chain' }).click();
    await expect(page).toHaveURL(/\/bench\//);
    await cascadeCurrent(page);
    await expect(page.locator('[data-script-of]')).toContainText('Written as text');
    await page.getByRole('tab', { name: 'Render' }).click();
    const id = await renderHere(page, 'Render');
    const rendered = samplesOf(await audioOf(page, id));
    expect(Math.abs(20 * Math.log10(level(rendered, 0.5, 1.5)) - (TONE - 6.02))).toBeLessThan(0.05);
    // It is heard on the Bench as well.
    await play(page);
    expect(Math.abs((await loudness(page)) - (TONE - 6.02))).toBeLessThan(0.1);
    await stop(page);
    expect(faults).toEqual([]);
  });
});

test('scripts are found when a stage is added, edited from there, and another text is an offer', async ({ page }) => {
  const faults = watchFaults(page);
  await page.goto('/script/example-ringModulator');
  // Drawn by running it, which the page’s own rules allow.
  await expect(page.locator('[data-picture]')).toHaveCount(2);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Make it mine' }).click();
  await expect(page).toHaveURL(/\/script\/[0-9A-Z]{26}$/);
  await compiled(page, 'yes');

  await page.getByRole('link', { name: 'Sounds' }).click();
  await openEmpty(page, 'Tower', 'Foghorn');
  await page.getByRole('button', { name: 'Add a stage' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('ring of bells');
  // Scripts are read in a thread; they come a moment after what is built in.
  await expect(page.getByRole('option', { name: 'Ring of bells' }).first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  const note = page.locator('[data-script-of]');
  await expect(note).toContainText('Written as text; the chain has it with it.');
  await expect(page.getByRole('textbox', { name: 'pitch, value' })).toHaveValue('220 Hz');
  await cascadeCurrent(page);

  // Its text gets another setting less, in the Script view.
  await note.getByRole('button', { name: 'Edit the text' }).click();
  const editor = page.getByRole('textbox', { name: 'Text of the script' });
  await compiled(page, 'yes');
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText(
    ((await (await page.request.get('/api/scripts')).json()) as { title: string; text: string }[])
      .find(({ title }) => title === 'Ring of bells')!
      .text.replace(/ {2}depth: ratio\([^)]*\),\n/s, '')
      .replace('x + p.depth * (ring - x)', 'ring'),
  );
  await compiled(page, 'yes');
  await expect(page.locator('[data-keeping=kept]')).toBeVisible();
  await page.goBack();
  await cascadeCurrent(page);
  await expect(note).toContainText('There is another text of “Ring of bells” by now.');
  await expect(page.getByRole('textbox', { name: 'depth, value' })).toBeVisible();
  await note.getByRole('button', { name: 'Compare and update …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Ring of bells, depth');
  await expect(dialog.locator('.cm-deletedChunk').first()).toBeVisible();
  await dialog.getByRole('button', { name: 'Take the other text' }).click();
  await expect(page.getByRole('textbox', { name: 'depth, value' })).toBeHidden();
  await expect(page.getByRole('textbox', { name: 'pitch, value' })).toBeVisible();
  await cascadeCurrent(page);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('textbox', { name: 'depth, value' })).toBeVisible();
  expect(faults).toEqual([]);
});

test('a whole-clip script that does not end tells how far it is, is stopped, and refused in the end', async ({
  page,
}) => {
  const text = `export const language = 1;
export const title = 'Treadmill';
export const family = 'clip';
export const summary = 'Never arrives.';
export function clip(sound, out, p) {
  while (true) out.write(0, 0, noise());
}`;
  const document = {
    ...{ format: 'hexenkessel.chain', version: 1, name: 'Treadmill', render: { tail: { mode: 'none' } } },
    ...{
      stages: [{ id: 'own', kind: 'script', script: 'treadmill' }],
      scripts: [{ id: 'treadmill', language: 'hexenkessel', text }],
    },
  };
  const { id } = (await (await page.request.post('/api/chains', { data: { document } })).json()) as Named;
  await page.goto(`/bench/${id}?sound=${await idOf(page, 'sounds', 'Crowd of gulls')}`);
  const measures = page.getByTestId('measures');
  await expect(measures).toHaveText(/^rendering … \d+ %$/);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(measures).toHaveText('render stopped');
  await page.getByRole('button', { name: 'Resume' }).click();
  await expect(page.getByRole('alert')).toHaveText(
    /“Treadmill” works too long \(line 6 of its text\): more than 10,000 steps/,
  );
  await expect(measures).toHaveText('not rendered');
});

test('scripts stand on the reference page as other stages do, and lead to their text', async ({ page }) => {
  const faults = watchFaults(page);
  await page.goto('/reference');
  const kinds = page.getByRole('navigation', { name: 'Stages' });
  await page.getByRole('textbox', { name: 'Find a stage or a parameter' }).fill('sympathetic');
  await kinds.getByRole('link', { name: 'Ringing beams' }).click();
  const article = page.getByRole('article');
  await expect(article).toContainText('Lets six resonators ring');
  await expect(article).toContainText(/Takes at most \d+ of 2,000 steps a sample/);
  await expect(article).toContainText('How far the others lie apart.');
  await expect(article.locator('[data-picture]')).toBeVisible();
  await article.getByRole('button', { name: 'Listen' }).click();
  await expect(article.getByRole('status')).toContainText('playing');
  await article.getByRole('button', { name: 'Stop' }).click();
  await article.getByRole('link', { name: 'its text' }).click();
  await expect(page).toHaveURL(/\/script\/example-resonators$/);
  await expect(page.getByRole('textbox', { name: 'Text of the script' })).toContainText('Ringing beams');
  expect(faults).toEqual([]);
});

test('what is built in is found before a script whose title begins with the word', async ({ page }) => {
  await openEmpty(page, 'Mill', 'Foghorn');
  for (const [words, title] of [
    ['backwards', 'Reverse'],
    ['repeat', 'Delay'],
  ]) {
    await page.getByRole('button', { name: 'Add a stage' }).click();
    await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill(words);
    // Once the scripts are read, too.
    await expect(page.getByRole('option').filter({ hasText: 'script' }).first()).toBeVisible();
    await expect(page.getByRole('option').first()).toContainText(title);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
});

test('where no module can be sent to the audio thread, a script is heard by its bytes', async ({ page }) => {
  const faults = watchFaults(page);
  // A browser that drops messages with modules in them, which the audio thread then says.
  await page.addInitScript(() => {
    const told = { dropped: 0, bytes: 0 };
    (window as unknown as { told: typeof told }).told = told;
    const holds = (part: unknown, what: (one: object) => boolean): boolean =>
      typeof part === 'object' &&
      part !== null &&
      (what(part) || (!ArrayBuffer.isView(part) && Object.values(part).some((inner: unknown) => holds(inner, what))));
    const post = MessagePort.prototype.postMessage as (this: MessagePort, ...args: unknown[]) => void;
    MessagePort.prototype.postMessage = function (this: MessagePort, ...args: unknown[]) {
      const [message] = args as [{ type?: string } | undefined];
      const planned = message?.type === 'deck' || message?.type === 'plan';
      if (planned && holds(message, (one) => one instanceof WebAssembly.Module)) {
        told.dropped += 1;
        setTimeout(() => this.dispatchEvent(new MessageEvent('message', { data: 'unreadable' })));
        return;
      }
      if (planned && holds(message, (one) => 'bytes' in one)) told.bytes += 1;
      post.apply(this, args);
    } as typeof MessagePort.prototype.postMessage;
  });
  await page.goto('/script/example-repeat');
  const sounds = page.getByRole('combobox', { name: 'Sound to try it on' });
  await expect(sounds).toBeVisible();
  const heard = await sounds.evaluate((list: HTMLSelectElement) => list.selectedOptions[0].label);
  await page.getByRole('button', { name: 'Use in a new chain' }).click();
  await expect(page.getByRole('button', { name: `shelf: ${heard}` })).toBeVisible();
  await cascadeCurrent(page);
  await play(page);
  await expect(page.locator('[data-meter="short-term loudness"]')).toContainText(/\d LUFS/);
  await stop(page);
  const told = await page.evaluate(() => (window as unknown as { told: { dropped: number; bytes: number } }).told);
  expect(told.dropped).toBeGreaterThan(0);
  expect(told.bytes).toBeGreaterThan(0);
  expect(faults).toEqual([]);
});

test('a text is not lost while the server is away: asked for on closing, there on coming back, kept when it answers', async ({
  page,
}) => {
  const editor = await openNewScript(page);
  const path = new URL(page.url()).pathname;
  await page.route('**/api/**', (route) => route.abort());
  await page.keyboard.type('// typed while it was away');
  await expect(page.locator('[data-keeping="not kept"]')).toBeVisible();
  await page.getByRole('link', { name: 'Reference' }).click();
  await expect(page.getByText(/The last change to “New script.*” is not kept yet/)).toBeVisible();
  // Whoever closes the window now is asked first, wherever in it one is.
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await page.goBack();
  await expect(editor).toContainText('// typed while it was away');
  await page.unroute('**/api/**');
  await expect(page.locator('[data-keeping=kept]')).toBeVisible();
  const { text } = (await (await page.request.get(`/api${path.replace('script', 'scripts')}`)).json()) as {
    text: string;
  };
  expect(text).toContain('// typed while it was away');
});
