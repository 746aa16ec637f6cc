import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { addStage, cascadeCurrent, dropFile, expectAccessible, openGroup, watchFaults } from './page.ts';
import { ONSET, RATE, lastSound, readWav, testSound } from './sounds.ts';

test('from a dropped sound to a preset used on the next sound', async ({ page, request }, info) => {
  const faults = watchFaults(page);
  const source = testSound();
  const file = (name: string) => info.outputPath(name);

  await test.step('drop a sound on Start; the original is kept as it was', async () => {
    await page.goto('/');
    await expect(page.getByText('Foghorn')).toBeVisible();
    await expectAccessible(page);
    await dropFile(page, 'Three tones.wav', source);
    await expect(page).toHaveURL(/\/bench\/\w+\?sound=\w+/);
    const id = new URL(page.url()).searchParams.get('sound');
    const kept = await (await request.get(`/api/sounds/${id}/audio`)).body();
    expect(kept.equals(source)).toBe(true);
  });

  await test.step('build Reverse → Hall → Reverse, reorder, switch, remove, undo, redo', async () => {
    await addStage(page, 'backwards');
    await addStage(page, 'church');
    await addStage(page, 'reverse');
    const rows = page.locator('[data-stage]');
    const order = () => rows.evaluateAll((found) => found.map((row) => row.getAttribute('data-stage')));
    expect(await order()).toEqual(['reverse', 'hall', 'reverse2']);
    await cascadeCurrent(page);

    await page.getByRole('button', { name: 'Show the parameters of Hall reverb' }).focus();
    await page.keyboard.press('Alt+ArrowUp');
    await expect.poll(order).toEqual(['hall', 'reverse', 'reverse2']);
    await page.keyboard.press('Control+z');
    await expect.poll(order).toEqual(['reverse', 'hall', 'reverse2']);

    const handle = page.getByRole('button', { name: 'Move Hall reverb', exact: true });
    const from = await handle.boundingBox();
    const to = await rows.nth(2).boundingBox();
    if (!from || !to) throw new Error('rows are not laid out');
    await page.mouse.move(from.x + 5, from.y + 5);
    await page.mouse.down();
    await page.mouse.move(from.x + 5, from.y + 40, { steps: 5 });
    await page.mouse.move(from.x + 5, to.y + to.height / 2 + 10, { steps: 10 });
    await page.mouse.up();
    await expect.poll(order).toEqual(['reverse', 'reverse2', 'hall']);
    await page.getByRole('button', { name: 'Undo: move Hall reverb' }).click();
    await expect.poll(order).toEqual(['reverse', 'hall', 'reverse2']);

    await page.getByRole('button', { name: 'Hall reverb off', exact: true }).click();
    await cascadeCurrent(page);
    await page.getByRole('button', { name: 'Remove Hall reverb' }).click();
    await expect.poll(order).toEqual(['reverse', 'reverse2']);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+Shift+z');
    await page.keyboard.press('Control+z');
    await expect.poll(order).toEqual(['reverse', 'hall', 'reverse2']);
    await expect(page.getByRole('button', { name: 'Hall reverb off', exact: true })).toBeVisible();
  });

  await test.step('type the decay in any unit; the tempo moves what follows it', async () => {
    await page.getByRole('button', { name: 'Show the parameters of Hall reverb' }).click();
    const decay = page.getByRole('textbox', { name: 'decay time, value', exact: true });
    const scale = page.getByRole('slider', { name: 'decay time', exact: true });
    const type = async (text: string) => {
      await decay.fill(text);
      await decay.press('Enter');
    };
    await page.getByRole('textbox', { name: 'Tempo' }).fill('93');
    await page.getByRole('textbox', { name: 'Tempo' }).press('Enter');
    await type('1/2d');
    expect(Number(await scale.getAttribute('aria-valuenow'))).toBeCloseTo((3 * 60) / 93, 6);
    await type('5 s');
    await expect(scale).toHaveAttribute('aria-valuenow', '5');
    await type('8 beats');
    expect(Number(await scale.getAttribute('aria-valuenow'))).toBeCloseTo(5.16129, 5);
    await expect(page.getByText('5.161 s').first()).toBeVisible();
    await type('900 s');
    await expect(page.getByText('allowed is 100 ms to 60 s')).toBeVisible();
    await expect(decay).toHaveAttribute('aria-invalid', 'true');
    await decay.press('Escape');
    await expect(decay).toHaveValue('8 beats');
    await type('soon');
    await expect(page.getByText('"soon" is not a time')).toBeVisible();
    await type('2 beats');
    await page.getByRole('textbox', { name: 'Tempo' }).fill('120');
    await page.getByRole('textbox', { name: 'Tempo' }).press('Enter');
    await expect(scale).toHaveAttribute('aria-valuenow', '1');
    await expect(page.getByRole('slider', { name: 'size' })).toHaveAttribute('aria-valuenow', '1');
    await scale.focus();
    await page.keyboard.press('ArrowRight');
    await expect(decay).not.toHaveValue('2 beats');
    await page.keyboard.press('Control+z');
    await expect(decay).toHaveValue('2 beats');
    await cascadeCurrent(page);
  });

  await test.step('play the source, a row and the render; loop a region', async () => {
    const ruler = await page.getByTestId('ruler').boundingBox();
    if (!ruler) throw new Error('no ruler');
    await page.mouse.move(ruler.x + ruler.width * 0.5, ruler.y + 20);
    await page.mouse.down();
    await page.mouse.move(ruler.x + ruler.width * 0.6, ruler.y + 20, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByRole('textbox', { name: 'Region start' })).not.toHaveValue('start');
    await page.getByRole('button', { name: 'Loop the region' }).click();
    for (const name of ['Play the sound up to Three tones', 'Play the sound up to Hall reverb', 'Play the render']) {
      await page.getByRole('button', { name, exact: true }).click();
      const line = page.getByTestId('play-line');
      await expect(line).toBeVisible();
      const before = await line.getAttribute('style');
      await expect.poll(() => line.getAttribute('style')).not.toBe(before);
      await page.getByRole('button', { name: 'Stop', exact: true }).click();
      await expect(line).toBeHidden();
    }
    await page.getByRole('button', { name: 'clear region' }).click();
  });

  await test.step('set the render and render on the server', async () => {
    await page.getByRole('tab', { name: 'Render' }).click();
    await page.getByRole('combobox', { name: 'Tail', exact: true }).selectOption('fixed');
    await page.getByRole('textbox', { name: 'Tail length' }).fill('2 beats');
    await page.getByRole('textbox', { name: 'Tail length' }).press('Enter');
    await page.getByRole('combobox', { name: 'Alignment' }).selectOption('end');
    await page.getByRole('textbox', { name: 'Name of renders' }).fill('{sound} swell {tempo}');
    await page.getByRole('textbox', { name: 'Name of renders' }).press('Enter');
    await expect(page.getByText('01:00:00 is assumed')).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Save version' }).click();
    await page.getByRole('textbox', { name: 'Version note' }).fill('first light');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Version 1 is saved')).toBeVisible();
    await page.getByRole('textbox', { name: 'Name of the chain' }).fill('Tide of three');
    await page.getByRole('button', { name: 'Save version' }).click();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Version 2 is saved')).toBeVisible();
    await page.getByRole('button', { name: 'Render', exact: true }).click();
    await expect(page.locator('[data-render=done]')).toContainText('Three tones swell 120');
  });

  const chainId = /bench\/(\w+)/.exec(page.url())?.[1] ?? '';
  const download = async (depth: string) => {
    await page
      .getByRole('combobox', { name: 'Sample format of Three tones swell 120', exact: true })
      .selectOption(depth);
    const [saved] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Download WAV of Three tones swell 120', exact: true }).click(),
    ]);
    return readFileSync(await saved.path());
  };

  await test.step('the file carries its place: the swell ends on the original’s onset, to the sample', async () => {
    for (const [depth, bits, format] of [
      ['16', 16, 1],
      ['24', 24, 1],
      ['32f', 32, 3],
    ] as const) {
      const wav = readWav(await download(depth));
      expect(wav).toMatchObject({ bits, format, rate: RATE, channels: 2 });
      const place = (wav.timeReference ?? NaN) - 3600 * RATE;
      // At 16 bits the quietest end lies near the dither, which may add to a sample but not move it by more than a few.
      const slack = depth === '16' ? 3 : 0;
      expect(Math.abs(place + lastSound(wav) - ONSET)).toBeLessThanOrEqual(slack);
    }
    const { originFrames } = (
      (await (await request.get('/api/sounds?limit=500')).json()) as { name: string; originFrames: number }[]
    ).find(({ name }) => name === 'Three tones swell 120') ?? { originFrames: NaN };
    await expect(page.locator('[data-render=done]')).toContainText(`\u2212${-originFrames} samples`);
  });

  await test.step('the command line renders the same chain file to the same bytes of audio', async () => {
    const state = (await (await request.get(`/api/chains/${chainId}`)).json()) as { document: unknown };
    writeFileSync(file('chain.hxk.json'), JSON.stringify(state.document));
    writeFileSync(file('in.wav'), source);
    for (const depth of ['24', '32f']) {
      const args = [
        'hexenkessel',
        'render',
        '--chain',
        file('chain.hxk.json'),
        '--in',
        file('in.wav'),
        '--out',
        file('out.wav'),
        '--depth',
        depth,
      ];
      execFileSync('npx', args, { stdio: 'pipe' });
      expect(readWav(readFileSync(file('out.wav'))).data.equals(readWav(await download(depth)).data)).toBe(true);
    }
  });

  await test.step('find the preset in the Library and use it on the next sound', async () => {
    await page.getByRole('link', { name: 'Library' }).click();
    await page.getByRole('textbox', { name: 'Find chains' }).fill('tide thr');
    await expect(page.getByRole('row')).toHaveCount(2);
    await expectAccessible(page);
    await page.getByRole('combobox', { name: 'Sound to open with' }).selectOption({ label: 'Tram bell' });
    await page.getByRole('button', { name: 'Open Tide of three' }).click();
    await expect(page.locator('[data-row="Tram bell"]')).toBeVisible();
    await page.getByRole('button', { name: 'Show the parameters of Hall reverb' }).click();
    await openGroup(page, 'output');
    await page.getByRole('textbox', { name: 'low cut, value', exact: true }).fill('1.2 kHz');
    await page.getByRole('textbox', { name: 'low cut, value', exact: true }).press('Enter');
    await page.getByRole('tab', { name: 'Render' }).click();
    await page.getByRole('button', { name: 'Render', exact: true }).click();
    await expect(page.locator('[data-render=done]')).toContainText('version 2, changed');
  });

  await test.step('the first render is still there and says which version made it', async () => {
    await page.getByRole('link', { name: 'Sounds' }).click();
    const first = page.getByRole('row', { name: /Three tones swell 120/ });
    await expect(first).toContainText('Three tones with Tide of three, version 2');
    await expect(page.getByRole('row', { name: /Tram bell swell 120/ })).toContainText('version 2, changed');
    await expectAccessible(page);
  });

  await test.step('the sheet, and its exports', async () => {
    await page.goto(`/sheet/${chainId}`);
    await expect(page.getByRole('heading', { name: 'Tide of three' })).toBeVisible();
    await expect(page.locator('article svg')).toBeVisible();
    await expect(page.getByText('tempo-synced: decay time of Hall reverb (2 beats)')).toBeVisible();
    await expectAccessible(page);
    const save = async (name: string) => {
      const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
      return readFileSync(await saved.path());
    };
    const zip = unzipSync(await save('Markdown'));
    expect(Object.keys(zip)).toEqual(['Tide of three.md', 'Tide of three.svg']);
    const markdown = strFromU8(zip['Tide of three.md']);
    expect(markdown).toContain('| low cut | 1.2 kHz |');
    expect(markdown).toContain('](Tide%20of%20three.svg)');
    expect(strFromU8(zip['Tide of three.svg'])).toMatch(/^<svg/);
    const html = (await save('HTML')).toString();
    expect(html).toContain('@font-face');
    expect(html).toContain('<svg');
    expect(html).not.toMatch(/<script|src=/);
  });

  expect(faults).toEqual([]);
});
