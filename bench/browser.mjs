// What is measured in Chromium: the core against the browser's native nodes, and the built application while it plays.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';
import { launch, playRound, startServer } from './application.mjs';
import { benchmarkDrag } from './drag.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const PORT = 4697;

/** Rows of what, result. */
export async function benchmarkBrowser() {
  return [...(await againstNative()), ...(await whilePlaying()), ...(await benchmarkDrag())];
}

async function againstNative() {
  const folder = mkdtempSync(join(tmpdir(), 'hexenkessel-bench-'));
  await build({
    root: join(root, 'bench/browser'),
    configFile: false,
    logLevel: 'error',
    build: { outDir: folder, emptyOutDir: true, lib: { entry: 'graphs.ts', formats: ['es'], fileName: 'graphs' } },
  });
  const script = readFileSync(join(folder, 'graphs.js'));
  const server = createServer((request, response) => {
    response.setHeader('content-type', request.url === '/graphs.js' ? 'text/javascript' : 'text/html');
    response.end(request.url === '/graphs.js' ? script : '<script type="module" src="/graphs.js"></script>');
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  const browser = await launch();
  try {
    const page = await browser.newPage();
    await page.goto(`http://127.0.0.1:${server.address().port}/`);
    await page.waitForFunction(() => window.compareGraphs !== undefined);
    const results = await page.evaluate(() => window.compareGraphs());
    return results.map(({ name, ours, native }) => [
      `${name}, stereo, Chromium: ours, native (ms for a second of sound)`,
      `${(1000 * ours).toFixed(2)}, ${(1000 * native).toFixed(2)}: ${(native / ours).toFixed(2)}× as fast as native`,
    ]);
  } finally {
    await browser.close();
    server.close();
    rmSync(folder, { recursive: true });
  }
}

/** Loads of the demo chains, then a minute of playing while the interface is used. */
async function whilePlaying() {
  const { base, stop } = await startServer(PORT);
  const browser = await launch();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(() => {
      window.interactions = [];
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries()) if (entry.interactionId) window.interactions.push(entry.duration);
      }).observe({ type: 'event', durationThreshold: 16, buffered: true });
    });
    const list = async (kind) => (await page.request.get(`${base}/api/${kind}`)).json();
    const sound = (await list('sounds')).find(({ name }) => name === 'Boiler-room drums').id;
    const chains = (await list('chains')).sort((a, b) => (a.name < b.name ? -1 : 1));
    const open = async (chain) => {
      await playRound(page, base, chain.id, sound);
    };
    const load = () => page.locator('[data-meter="DSP load"]').textContent();
    const rows = [];
    for (const chain of chains) {
      await open(chain);
      await page.waitForTimeout(4000);
      rows.push([`live load of ${chain.name}, 48 kHz, blocks of 128, Chromium`, await load()]);
    }
    await open(chains.find(({ name }) => name === 'Copper Dome'));
    await page
      .getByRole('button', { name: 'reset' })
      .click({ timeout: 500 })
      .catch(() => undefined);
    const before = await load();
    const until = Date.now() + 60_000;
    const decay = page.getByRole('slider', { name: 'decay time', exact: true });
    for (let turn = 0; Date.now() < until; turn++) {
      await decay.focus();
      for (let key = 0; key < 6; key++) await page.keyboard.press(turn % 2 ? 'ArrowLeft' : 'ArrowRight');
      await page.getByRole('button', { name: 'dry', exact: true }).click();
      await page.getByRole('button', { name: 'dry', exact: true }).click();
      await page.getByRole('button', { name: turn % 2 ? /^Slot A/ : /^Slot B/ }).click();
      await page.keyboard.press('Control+z');
      await page.waitForTimeout(400);
    }
    rows.push(['a minute of playing Copper Dome while it is turned, switched, undone: at its start', before]);
    rows.push(['the same: at its end', await load()]);
    const times = (await page.evaluate(() => window.interactions)).sort((a, b) => a - b);
    const p98 = times[Math.floor(0.98 * (times.length - 1))] ?? 16;
    rows.push([
      'interaction to next paint in that minute: 98th percentile, slowest',
      `${p98} ms, ${times.at(-1) ?? 16} ms (${times.length} of 16 ms or more)`,
    ]);
    return rows;
  } finally {
    await browser.close();
    await stop();
  }
}
