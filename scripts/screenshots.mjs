// Retakes the pictures in docs/screenshots from the demo data, against the built application.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';

const PORT = 4698;
const base = `http://127.0.0.1:${PORT}`;
const root = fileURLToPath(new URL('..', import.meta.url));
const data = mkdtempSync(join(tmpdir(), 'hexenkessel-shots-'));
const server = spawn('node', ['packages/server/dist/main.js'], {
  cwd: root,
  env: { ...process.env, PORT: String(PORT), HEXENKESSEL_DATA: data },
  stdio: 'inherit',
});

async function up() {
  for (let tries = 0; tries < 100; tries++) {
    if (
      await fetch(`${base}/api/health`).then(
        (response) => response.ok,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('the server did not come up');
}

try {
  await up();
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  const shoot = (name) => page.screenshot({ path: `${root}docs/screenshots/${name}.png` });
  const idOf = async (kind, name) =>
    (await (await page.request.get(`${base}/api/${kind}`)).json()).find((entry) => entry.name === name).id;
  const current = async () => {
    await page
      .getByTestId('measures')
      .filter({ hasText: /LUFS · \d+ ms/ })
      .waitFor();
    await page.waitForTimeout(300);
  };

  await page.goto(base);
  await page.getByText('Foghorn').waitFor();
  await page.waitForTimeout(300);
  await shoot('start');
  const swell = await idOf('chains', 'Tide Turning');
  const voice = await idOf('sounds', 'Harbour announcer');
  await page.goto(`${base}/bench/${swell}?sound=${voice}`);
  await current();
  await page.getByRole('button', { name: 'show the parameters of Hall reverb' }).click();
  await page.getByRole('slider', { name: 'decay time', exact: true }).hover();
  await page.waitForTimeout(300);
  await shoot('bench');
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  await page.locator('[data-render=done]').waitFor();
  await page.getByRole('button', { name: 'Add a stage' }).click();
  await page.waitForTimeout(500);
  await shoot('add-a-stage');
  const stop = await idOf('chains', 'Barometer Drop');
  await page.goto(`${base}/bench/${stop}?sound=${await idOf('sounds', 'Boiler-room drums')}`);
  await current();
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('combobox', { name: 'Range' }).selectOption('region');
  const panel = page.getByRole('tabpanel');
  for (const [edge, place] of [
    ['Region end', '4 beats'],
    ['Region start', '0 s'],
  ]) {
    await panel.getByRole('textbox', { name: edge }).fill(place);
    await panel.getByRole('textbox', { name: edge }).press('Enter');
  }
  await panel.getByRole('button', { name: 'Render and splice' }).click();
  await page.locator('[data-render=done]').waitFor();
  await page.mouse.move(640, 700);
  await page.waitForTimeout(500);
  await shoot('render');
  const harp = await idOf('sounds', 'Wind harp');
  await page.goto(`${base}/bench/${await idOf('chains', 'Falling Glass')}?sound=${harp}`);
  await current();
  await page.waitForTimeout(500);
  await shoot('bend');
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('combobox', { name: 'Range' }).selectOption('whole');
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  await page.locator('[data-render=done]').waitFor();
  const falling = await idOf('sounds', 'Wind harp – falling');
  await page.goto(`${base}/sounds/${falling}`);
  await page.getByRole('button', { name: 'Place a sustain loop' }).click();
  await page.getByRole('button', { name: 'Place a release loop' }).click();
  for (const [field, text] of [
    ['Root note', 'A2'],
    ['Tags, with commas between', 'pulse, tide room'],
  ]) {
    await page.getByRole('textbox', { name: field }).fill(text);
    await page.getByRole('textbox', { name: field }).press('Enter');
  }
  await page.goto(`${base}/bench/${await idOf('chains', 'Hours of Fog')}?sound=${falling}`);
  await current();
  await page.getByRole('tab', { name: 'Render' }).click();
  await page.getByRole('button', { name: 'Render', exact: true }).click();
  await page.locator('[data-render=done]').waitFor();
  await page.goto(`${base}/sounds/${falling}`);
  await page.getByRole('img', { name: 'Seam of the release loop' }).waitFor();
  await page.waitForTimeout(500);
  await shoot('sound');
  await page.goto(`${base}/library`);
  await page.getByText('Copper Dome').waitFor();
  await shoot('library');
  await page.goto(`${base}/sounds`);
  await page.getByText('Foghorn').waitFor();
  await shoot('sounds');
  await page.getByRole('button', { name: 'by lineage' }).click();
  await shoot('families');
  await page.goto(`${base}/script/example-autoPanner`);
  await page.getByRole('button', { name: 'Make it mine' }).click();
  await page.locator('[data-keeping=kept]').waitFor();
  await page.locator('svg[data-watched]').waitFor();
  await page.waitForTimeout(500);
  await shoot('script');
  await page.goto(`${base}/sheet/${swell}?sound=${voice}`);
  await page.locator('article svg').waitFor();
  await shoot('sheet');
  const glass = await idOf('sounds', 'Glass harmonica chords');
  await page.goto(`${base}/bench/${await idOf('chains', 'Storm Glass')}?sound=${glass}`);
  await page.getByRole('button', { name: 'Paper or soot' }).click();
  await current();
  await page.getByRole('button', { name: 'show the parameters of Fade in / out' }).click();
  await page.mouse.move(640, 700);
  await page.waitForTimeout(400);
  await shoot('soot');
  await page.getByRole('button', { name: 'Paper or soot' }).click();
  const drums = await idOf('sounds', 'Boiler-room drums');
  await page.goto(`${base}/bench/${await idOf('chains', 'Lamp Room')}?sound=${drums}`);
  await current();
  await page.getByRole('button', { name: 'Loop the region' }).click();
  await page.getByRole('button', { name: 'Slot B' }).click();
  await page.getByRole('button', { name: 'Play the render', exact: true }).click();
  await page.getByRole('button', { name: 'loudness match' }).click();
  await page.getByTestId('match-gain').filter({ hasText: 'dB' }).waitFor();
  await page.mouse.move(640, 715);
  await page.waitForTimeout(1500);
  await shoot('live');
  await page.getByRole('button', { name: 'Stop' }).first().click();
  await page.goto(`${base}/bench/${await idOf('chains', 'Undertow')}?sound=${voice}`);
  await current();
  await shoot('echo');
  const clicks = await idOf('sounds', 'Telegraph clicks');
  await page.goto(`${base}/bench/${await idOf('chains', 'Signal Box')}?sound=${clicks}`);
  await current();
  await shoot('room');
  const calm = async () => {
    await page.mouse.move(640, 715);
    await page.waitForTimeout(600);
  };
  await page.goto(`${base}/bench/${await idOf('chains', 'Lighthouse')}?sound=${drums}`);
  await current();
  await page.getByRole('tab', { name: 'Panel' }).click();
  await page.getByRole('button', { name: 'How Distance is made' }).click();
  await calm();
  await shoot('panel');
  await page.getByRole('tab', { name: 'Modulation' }).click();
  await page.getByRole('button', { name: 'Expand Lamp' }).click();
  await calm();
  await shoot('movement');
  await page.goto(`${base}/bench/${await idOf('chains', 'Bad Line')}?sound=${voice}`);
  await current();
  await page.getByRole('button', { name: 'Lane tools' }).first().click();
  await calm();
  await shoot('lanes');
  await page.goto(`${base}/reference/flanger`);
  await page.locator('[data-picture]').waitFor();
  await page.waitForTimeout(400);
  await shoot('reference');
  await browser.close();
} finally {
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
  rmSync(data, { recursive: true, force: true });
}
