import { expect, test, type Page } from '@playwright/test';
import {
  addStage,
  audioOf,
  cascadeCurrent,
  dropFile,
  expectAccessible,
  idOf,
  openEmpty,
  watchFaults,
  type Named,
} from './page.ts';
import { newChain, openBench, play, setValue, stop } from './playing.ts';
import {
  clearRecording,
  heardAfter,
  listened,
  fallenSilent,
  heardFor,
  installRecorder,
  recording,
  rms,
} from './recorder.ts';
import { readWav, testSound } from './sounds.ts';

/** What the server keeps beside a chain. */
const deskOf = async (page: Page, chain: string) =>
  (await (await page.request.get(`/api/chains/${chain}/desk`)).json()) as { slot: string; shelf: string[] };

// For the recorder's own module.
test.use({ bypassCSP: true });

/**
 * Opens the audio thread once, so that a recording can begin before the sound does. It has been heard before it is stopped:
 * on a busy machine the audio thread may take up both only after the silence that was waited for.
 */
async function warmUp(page: Page): Promise<void> {
  await play(page);
  await heardFor(page, 128);
  await stop(page);
  await fallenSilent(page);
  await clearRecording(page);
}

test('what is played is what is rendered, sample by sample, on chains of every kind', async ({ page }) => {
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'Telegraph clicks');
  const names = ((await (await page.request.get('/api/chains?limit=500')).json()) as Named[]).map(({ name }) => name);
  for (const name of ['Tide Turning', 'Storm Glass', 'Lamp Room', 'Lighthouse', 'Bad Line']) {
    expect(names).toContain(name);
    const chainId = await idOf(page, 'chains', name);
    const { revision } = (await (await page.request.get(`/api/chains/${chainId}`)).json()) as { revision: number };
    const { id } = (await (
      await page.request.post('/api/renders', { data: { sourceId: sound, chainId, revision } })
    ).json()) as Named;
    const render = async () =>
      (await (await page.request.get(`/api/renders/${id}`)).json()) as { status: string; soundId: string };
    await expect.poll(async () => (await render()).status, { timeout: 30_000 }).toBe('done');
    const file = readWav(await (await page.request.get(`/api/sounds/${(await render()).soundId}/audio`)).body());
    const rendered = Array.from({ length: file.channels }, (_, side) =>
      Float32Array.from({ length: file.size.length }, (__, i) => file.data.readFloatLE((i * file.channels + side) * 4)),
    );

    await openBench(page, chainId, sound);
    await warmUp(page);
    await play(page);
    // However long the page takes to begin.
    await heardFor(page, 2.5 * file.rate);
    await stop(page);
    const heard = await recording(page);

    // Found by its loudest sample of the first two seconds, behind the fade in of 10 ms.
    const fade = Math.ceil(0.011 * file.rate);
    const span = 2 * file.rate;
    let peak = fade;
    for (let i = fade; i < span; i++) if (Math.abs(rendered[0][i]) > Math.abs(rendered[0][peak])) peak = i;
    const offsets = [...heard[0].keys()].filter((i) => heard[0][i] === rendered[0][peak]).map((i) => i - peak);
    const identical = (offset: number) =>
      heard.every((side, c) => {
        const same = rendered[Math.min(c, rendered.length - 1)];
        for (let i = fade; i < span; i++) if (side[offset + i] !== same[i]) return false;
        return true;
      });
    expect(offsets.some(identical), `${name}: ${offsets.length} places to look at`).toBe(true);
  }
});

test('stopped before the audio thread is open, it stays silent, and plays when asked again', async ({ page }) => {
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'White noise');
  const chain = await newChain(page, 'Stopped early', { stages: [{ id: 'gain', kind: 'gain' }] });
  await openBench(page, chain, sound);
  await page.evaluate(async () => {
    const press = (name: string) => document.querySelector<HTMLElement>(`button[aria-label="${name}"]`)!.click();
    press('Play the render');
    await Promise.resolve();
    press('Stop');
  });
  await clearRecording(page);
  await listened(page, 0.5);
  const [left] = await recording(page);
  expect(left.length).toBeGreaterThan(4800);
  expect(left.every((sample) => sample === 0)).toBe(true);
  await expect(page.getByTestId('play-line')).toBeHidden();
  await play(page);
  await heardFor(page, 4800);
});

test('a value is heard while it is turned, and the Cascade follows', async ({ page }) => {
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'White noise');
  const chain = await newChain(page, 'Turned', { stages: [{ id: 'gain', kind: 'gain' }] });
  await openBench(page, chain, sound);
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await warmUp(page);
  await play(page);
  await heardFor(page, 28_800);
  await setValue(page, 'gain', '-20 dB');
  await heardFor(page, 86_400);
  await cascadeCurrent(page);
  await expect(page.locator('[data-stage=gain]').getByText('−32.0 dB')).toBeVisible();
  const [left] = await recording(page);
  const first = left.findIndex((sample) => sample !== 0);
  // To its end: how long typing takes is the machine's.
  const levels = Array.from({ length: Math.floor((left.length - first - 4800) / 1200) }, (_, n) =>
    rms(left, first + 4800 + n * 1200, first + 4800 + (n + 1) * 1200),
  );
  const loud = levels[0];
  const fallen = levels.findIndex((level) => level < loud - 18);
  expect(fallen).toBeGreaterThan(0);
  expect(rms(left, left.length - 9600, left.length - 4800)).toBeCloseTo(loud - 20, 0);
  await expect(page.locator('[data-stage=gain] [data-run]')).toHaveText('live');
  await expect(page.locator('[data-meter="DSP load"]')).toContainText('%');
});

test('dry and wet, slots and loudness: what is compared is equally loud and nothing is lost', async ({ page }) => {
  const faults = watchFaults(page);
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'White noise');
  const chain = await newChain(page, 'Compared', {
    stages: [{ id: 'gain', kind: 'gain', settings: { gain: -15 } }],
  });
  await openBench(page, chain, sound);
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await warmUp(page);
  await play(page);
  const level = async () => {
    return rms((await heardAfter(page, 0.25, 0.9))[0]);
  };
  const wet = await level();
  await page.getByRole('button', { name: 'dry', exact: true }).click();
  const dry = await level();
  expect(dry - wet).toBeCloseTo(15, 1);
  await page.getByRole('button', { name: 'loudness match' }).click();
  await expect(page.getByTestId('match-gain')).toHaveText('0.0 dB');
  await page.getByRole('button', { name: 'dry', exact: true }).click();
  await expect(page.getByTestId('match-gain')).toHaveText('+15.0 dB');
  expect(Math.abs((await level()) - dry)).toBeLessThan(0.1);

  // A slot begins as a copy; each keeps its own settings; the steps have names and can be undone.
  await page.getByRole('button', { name: /^Slot B/ }).click();
  await setValue(page, 'gain', '-5 dB');
  await page.getByRole('button', { name: /^Slot A/ }).click();
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('−15 dB');
  await page.keyboard.press('Shift+Digit2');
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('−5 dB');
  await expect(page.getByTestId('match-gain')).toHaveText('+5.0 dB');
  await page.getByRole('button', { name: 'Copy or name slots' }).click();
  await page.getByRole('menuitem', { name: 'Name slot B' }).click();
  await page.getByRole('textbox', { name: 'A name for slot B' }).fill('brighter');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Slot B, brighter' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: /Undo: name of the slot/ }).click();
  await page.getByRole('button', { name: /Undo: go to slot B/ }).click();
  await expect(page.getByRole('button', { name: /^Slot A/ })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: /Redo: go to slot B/ }).click();
  await expect.poll(async () => (await deskOf(page, chain)).slot).toBe('B');
  await page.reload();
  await cascadeCurrent(page);
  await expect(page.getByRole('button', { name: /^Slot B/ })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: /^Slot A/ }).click();
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('−15 dB');
  await expectAccessible(page);
  expect(faults).toEqual([]);
});

test('a kept version is heard beside the chain without taking it up', async ({ page }) => {
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'White noise');
  const chain = await newChain(page, 'Older', { stages: [{ id: 'gain', kind: 'gain', settings: { gain: -30 } }] });
  await openBench(page, chain, sound);
  await page.getByRole('button', { name: 'Save version' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Version 1 is saved')).toBeVisible();
  await setValue(page, 'gain', '0 dB');
  await cascadeCurrent(page);
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await warmUp(page);
  await play(page);
  await heardFor(page, 24_000);
  await page.getByRole('button', { name: 'Versions' }).click();
  await page.getByRole('menuitem', { name: 'Audition version 1' }).click();
  await expect(page.getByRole('button', { name: 'listening to version 1' })).toBeVisible();
  const older = rms((await heardAfter(page, 0.8, 0.5))[0]);
  await page.getByRole('button', { name: 'listening to version 1' }).click();
  expect(rms((await heardAfter(page, 0.3, 0.5))[0]) - older).toBeCloseTo(30, 0);
  await expect(page.getByRole('textbox', { name: 'gain, value' })).toHaveValue('0 dB');
});

test('a blind comparison hides the names, draws anew, and says what chance would do', async ({ page }) => {
  await installRecorder(page);
  const sound = await idOf(page, 'sounds', 'Boiler-room drums');
  const chain = await newChain(page, 'Blind', {
    stages: [{ id: 'dull', kind: 'filter', settings: { cutoff: 300, slope: '24 dB/oct' } }],
  });
  await openBench(page, chain, sound);
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await page.getByRole('button', { name: 'Blind A/B test' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: 'First' }).selectOption({ label: 'slot A' });
  await dialog.getByRole('combobox', { name: 'Second' }).selectOption({ label: 'dry' });
  await dialog.getByRole('combobox', { name: 'Rounds' }).selectOption({ label: '4 rounds' });
  await dialog.getByRole('button', { name: 'Begin' }).click();
  await expect(dialog).not.toContainText('slot A');
  /** The dry drums have cymbals, the dull ones none: their neighbouring samples differ less. */
  const isDull = async () => {
    const [left] = await heardAfter(page, 0.25, 1.3);
    return rms(left.map((sample, i) => sample - (left[i - 1] ?? 0))) - rms(left) < -22;
  };
  for (let round = 1; round <= 4; round++) {
    await expect(dialog).toContainText(`round ${round} of 4`);
    await dialog.getByRole('button', { name: 'hear X' }).click();
    await dialog.getByRole('button', { name: (await isDull()) ? 'I prefer X' : 'I prefer Y' }).click();
  }
  const result = dialog.getByTestId('blind-result');
  await expect(result).toContainText('slot A: 4 · dry: 0');
  await expect(result).toContainText('in 13 % of cases');
});

test('the shelf: another sound while it plays, the place kept; a shelf of its own for each chain', async ({ page }) => {
  const chain = await newChain(page, 'Shelved', { stages: [{ id: 'gain', kind: 'gain' }] });
  await openBench(page, chain, await idOf(page, 'sounds', 'Wind harp'));
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await play(page);
  const shelf = page.getByRole('button', { name: /^shelf:/ });
  const seconds = async () => Number(/([\d.]+) s$/.exec((await page.getByTestId('clock').textContent()) ?? '')?.[1]);
  await expect.poll(seconds).toBeGreaterThan(1);
  await shelf.click();
  const before = await seconds();
  await page.getByRole('menuitem', { name: 'Sweep 20 Hz – 20 kHz', exact: true }).click();
  await expect(shelf).toContainText('Sweep');
  await expect(page.getByTestId('play-line')).toBeVisible();
  await cascadeCurrent(page);
  const after = await seconds();
  expect(after).toBeGreaterThan(before);
  expect(after).toBeLessThan(before + 4);
  await page.keyboard.press('Escape');
  await shelf.click();
  await page.getByRole('menuitem', { name: 'Take Sweep 20 Hz – 20 kHz off the shelf' }).click();
  await page.keyboard.press('.');
  await expect(shelf).not.toContainText('Sweep');
  const sweep = await idOf(page, 'sounds', 'Sweep 20 Hz – 20 kHz');
  // Kept: what was there of itself is written down, without the one that was taken off.
  const kept = async () => (await deskOf(page, chain)).shelf;
  await expect.poll(async () => (await kept()).length > 0 && !(await kept()).includes(sweep)).toBe(true);
  await page.reload();
  await cascadeCurrent(page);
  await shelf.click();
  await expect(page.getByRole('menuitem', { name: 'White noise', exact: true })).toBeVisible();
  await expect(page.getByRole('menuitem', { name: 'Sweep 20 Hz – 20 kHz', exact: true })).toHaveCount(0);
  await expect(page.getByRole('menuitem', { name: 'Sweep 20 Hz – 20 kHz (test signal)' })).toBeVisible();
});

test('branches: stages inside a split, muted and alone, heard at once', async ({ page }) => {
  const faults = watchFaults(page);
  await installRecorder(page);
  const chain = await newChain(page, 'Branched', {});
  await openBench(page, chain, await idOf(page, 'sounds', 'White noise'));
  await addStage(page, 'parallel');
  await expect(page.locator('[data-branch]')).toHaveCount(2);
  await page.getByRole('button', { name: 'add stage in Branch 2' }).click();
  await page.getByRole('combobox', { name: 'What should happen to the sound?' }).fill('louder');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-branch] [data-stage]')).toHaveCount(1);
  await setValue(page, 'gain', '-40 dB');
  await cascadeCurrent(page);
  await expect(page.locator('[data-branch] [data-stage]').getByText('−52.0 dB')).toBeVisible();
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await warmUp(page);
  await play(page);
  const level = async () => {
    return rms((await heardAfter(page, 0.3, 0.5))[0]);
  };
  const both = await level();
  await page.getByRole('button', { name: 'Solo Branch 2' }).click();
  expect(both - (await level())).toBeCloseTo(40, 0);
  await page.getByRole('button', { name: 'Unsolo Branch 2' }).click();
  await page.getByRole('button', { name: 'Mute Branch 1' }).click();
  expect(both - (await level())).toBeCloseTo(40, 0);
  await page.locator('[data-branch] [data-stage]').getByRole('button', { name: 'Move Gain up' }).click();
  await expect(page.locator('[data-branch]').first().locator('[data-stage]')).toHaveCount(1);
  await expectAccessible(page);
  expect(faults).toEqual([]);
});

test('an output above full scale is said, with the first row that did it', async ({ page }) => {
  const chain = await newChain(page, 'Loud', {
    stages: [
      { id: 'calm', kind: 'gain', name: 'Calm' },
      { id: 'loud', kind: 'gain', name: 'Too much', settings: { gain: 20 } },
      { id: 'less', kind: 'gain', name: 'Still too much', settings: { gain: -3 } },
    ],
  });
  await openBench(page, chain, await idOf(page, 'sounds', 'White noise'));
  await play(page);
  await expect(page.getByTestId('over')).toContainText('“Too much” is the first stage above full scale');
  await expect(page.locator('[data-stage=loud]').getByTestId('stage-over')).toBeVisible();
  await expect(page.locator('[data-stage=calm]').getByTestId('stage-over')).toBeHidden();
  await expect(page.locator('[data-meter="short-term loudness"]')).toContainText('LUFS');
});

test('a sound that is dropped on the bench, and one that is put on the shelf, is heard at once', async ({ page }) => {
  const faults = watchFaults(page);
  const chain = await newChain(page, 'Dropped on', { stages: [{ id: 'gain', kind: 'gain' }] });
  await openBench(page, chain, await idOf(page, 'sounds', 'White noise'));
  await dropFile(page, 'Onto the bench.wav', testSound());
  await expect(page.getByRole('button', { name: /^shelf: Onto the bench/ })).toBeVisible();
  await cascadeCurrent(page);
  await expect(page.locator('[data-row="Onto the bench"]')).toBeVisible();
  await page.getByRole('button', { name: /^shelf:/ }).click();
  await page
    .getByRole('menuitem', { name: /^Single impulse|^Impulse|test signal/ })
    .first()
    .click();
  await expect(page.getByRole('button', { name: /^shelf: Onto the bench/ })).toHaveCount(0);
  await expectAccessible(page);
  expect(faults).toEqual([]);
});

test('a click on the ruler plays from there, keys go a beat on; a region that is dragged snaps to beats', async ({
  page,
}) => {
  const faults = watchFaults(page);
  const chain = await newChain(page, 'Placed', { stages: [{ id: 'gain', kind: 'gain' }] });
  await openBench(page, chain, await idOf(page, 'sounds', 'Boiler-room drums'));
  const ruler = page.getByTestId('ruler');
  const { x, y, width } = (await ruler.boundingBox())!;
  const line = page.getByTestId('play-line');
  const lineAt = async () => (await line.boundingBox())!.x;
  await page.mouse.click(x + width * 0.4, y + 20);
  await expect(line).toBeVisible();
  expect(await lineAt()).toBeGreaterThanOrEqual(x + width * 0.4 - 3);
  await page.mouse.click(x + width * 0.1, y + 20);
  await expect.poll(lineAt).toBeLessThan(x + width * 0.3);
  const before = await lineAt();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  // Two beats of 120 bpm are a second of some eight.
  await expect.poll(lineAt).toBeGreaterThan(before + width * 0.1);
  await page.keyboard.press('Home');
  await expect.poll(lineAt).toBeLessThan(x + width * 0.15);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  // Near a beat it is the beat; typed from end to start it is the same region.
  const beats = await ruler.getByText('1.2', { exact: true }).boundingBox();
  const bar = await ruler.getByText('2.1', { exact: true }).boundingBox();
  await page.mouse.move(beats!.x - 1, y + 20);
  await page.mouse.down();
  await page.mouse.move(bar!.x - 60, y + 20, { steps: 3 });
  await page.mouse.move(bar!.x - 1, y + 20, { steps: 3 });
  await page.mouse.up();
  const start = page.getByRole('textbox', { name: 'Region start' }).first();
  const end = page.getByRole('textbox', { name: 'Region end' }).first();
  await expect(start).toHaveValue('500 ms');
  await expect(end).toHaveValue('2 s');
  await start.fill('3 s');
  await start.press('Enter');
  await expect(start).toHaveValue('2 s');
  await expect(end).toHaveValue('3 s');
  expect(faults).toEqual([]);
});

test('a live chain plays while its Cascade is still being made', async ({ page }) => {
  const stages = Array.from({ length: 24 }, (_, n) => ({ id: `h${n}`, kind: 'hall', settings: { decay: 20 } }));
  const chain = await newChain(page, 'Heavy', { stages });
  await page.goto(`/bench/${chain}?sound=${await idOf(page, 'sounds', 'Wind harp')}`);
  await play(page);
  await expect(page.getByTestId('play-line')).toBeVisible();
  await expect(page.getByTestId('measures')).not.toContainText('LUFS');
});

test('a reversed hall beside the voice: rendered in its branch, played with the rest, refused in a loop', async ({
  page,
}) => {
  const faults = watchFaults(page);
  const chain = await newChain(page, 'Tide and voice', {});
  await openBench(page, chain, await idOf(page, 'sounds', 'White noise'));
  await addStage(page, 'parallel');
  const what = page.getByRole('combobox', { name: 'What should happen to the sound?' });
  for (const wanted of ['backwards', 'church', 'backwards']) {
    await page.getByRole('button', { name: 'add stage in Branch 2' }).click();
    await what.fill(wanted);
    await page.keyboard.press('Enter');
  }
  await cascadeCurrent(page);
  const rows = page.locator('[data-branch] [data-stage]');
  await expect(rows).toHaveCount(3);
  await expect(page.locator('[data-run]').filter({ hasText: 'rendered' })).toHaveCount(4);
  await expect(rows.last()).toContainText('dB');
  await page.getByRole('button', { name: 'Play the render', exact: true }).click();
  await expect(page.getByTestId('play-line')).toBeVisible();
  await page.keyboard.press('Space');
  await addStage(page, 'echo');
  await page
    .getByRole('button', { name: /^add stage in/ })
    .last()
    .click();
  await what.fill('fades');
  await expect(page.getByText('not inside a loop')).toBeVisible();
  expect(faults).toEqual([]);
});

test('the ruler is zoomed by wheel and keys down to samples; a region snaps, and its edges rest where the sound crosses zero', async ({
  page,
}) => {
  const faults = watchFaults(page);
  await openEmpty(page, 'Zoomed', 'Boiler-room drums');
  await addStage(page, 'gain');
  await cascadeCurrent(page);
  const ruler = page.getByTestId('ruler');
  const box = (await ruler.boundingBox())!;
  const thumb = page.getByRole('scrollbar', { name: 'Shown part of the sound' });
  await expect(thumb).toHaveCount(0);
  await page.mouse.move(box.x + 200, box.y + 20);
  await page.waitForTimeout(1000); // the transients are looked for when the ruler is first pointed at
  await page.mouse.down();
  await page.mouse.move(box.x + 260, box.y + 20, { steps: 4 });
  await page.mouse.move(box.x + 331, box.y + 20, { steps: 4 });
  await page.mouse.up();
  const clip = readWav(await audioOf(page, await idOf(page, 'sounds', 'Boiler-room drums'), '?depth=32f'));
  const edge = async (name: string) => {
    const seconds = Number((await page.getByRole('textbox', { name, exact: true }).inputValue()).replace(' s', ''));
    const beats = seconds / (60 / 120);
    const frame = Math.round(seconds * clip.rate);
    const { channels, data } = clip;
    const sum = (at: number) =>
      Array.from({ length: channels }, (_, c) => data.readFloatLE(4 * (at * channels + c))).reduce((x, y) => x + y, 0);
    const near = Array.from({ length: 12 }, (_, n) => sum(frame - 6 + n));
    const onBeat = Math.abs(beats - Math.round(beats)) < 0.001;
    const loudest = (from: number, to: number) => Math.max(...clip.size.subarray(frame + from, frame + to));
    // A note begins there, or it crosses zero; what is written is rounded to some frames.
    const struck = loudest(0, 1000) > 2 * loudest(-3000, -400);
    return onBeat || struck || near.some((x, n) => n > 0 && x <= 0 !== near[n - 1] <= 0);
  };
  for (const name of ['Region start', 'Region end']) {
    await expect.poll(() => edge(name), name).toBe(true);
  }
  await page.keyboard.press('f');
  await expect(thumb).toBeVisible();
  const shown = async () => (await thumb.boundingBox())!;
  const part = await shown();
  await page.keyboard.press('z');
  await expect.poll(async () => (await shown()).width).toBeLessThan(part.width);
  await page.keyboard.press('Control+ArrowRight');
  await expect.poll(async () => (await shown()).x).toBeGreaterThan(part.x);
  await page.mouse.move(box.x + 300, box.y + 20);
  for (let n = 0; n < 30; n++) await page.mouse.wheel(0, -300);
  await expect(ruler.getByText(/^\d\.\d{4,} s$/).first()).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('f');
  await expect(thumb).toHaveCount(0);
  expect(faults).toEqual([]);
});
