// A slider of the two heaviest demo chains is dragged for 20 s while they play: how long the page takes for a move, how much of it
// is rendered anew, how long the audio thread takes for a block. Run it alone with `node bench/drag.mjs`; a quiet machine matters.
import { fileURLToPath } from 'node:url';
import { launch, playRound, startServer } from './application.mjs';

const PORT = 4698;
const SECONDS = Number(process.env.DRAG_SECONDS ?? 20);
/** Milliseconds that a block of 128 frames lasts at 48 kHz. */
const BLOCK = 128 / 48;

/** Counts, in the page: interactions, and the components that each commit of React rendered. */
function watch() {
  window.seen = { interactions: [], commits: 0, components: 0 };
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) if (entry.interactionId) window.seen.interactions.push(entry.duration);
  }).observe({ type: 'event', durationThreshold: 16 });
  const PERFORMED_WORK = 1;
  const COMPONENTS = new Set([0, 1, 11, 14, 15]); // React's tags of functions, classes, forwarded and memoised ones
  const count = (fiber, before) => {
    if (fiber === before) return;
    if (COMPONENTS.has(fiber.tag) && (fiber.flags & PERFORMED_WORK) !== 0) window.seen.components++;
    if (before && fiber.child === before.child) return;
    for (let child = fiber.child; child; child = child.sibling) count(child, child.alternate);
  };
  window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    supportsFiber: true,
    inject: () => 1,
    onCommitFiberUnmount: () => undefined,
    onCommitFiberRoot: (_, { current }) => {
      window.seen.commits++;
      count(current, current.alternate);
    },
  };
}

/** Rows of what, result. */
export async function benchmarkDrag() {
  const { base, stop } = await startServer(PORT);
  const browser = await launch();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(watch);
    const list = async (kind) => (await page.request.get(`${base}/api/${kind}`)).json();
    const sound = (await list('sounds')).find(({ name }) => name === 'Boiler-room drums').id;
    const chains = (await list('chains')).filter(({ name }) => CHAINS.includes(name));
    const rows = [];
    for (const { id, name } of chains) {
      await playRound(page, base, id, sound);
      const slider = page.locator('[data-row-of] [role=slider]:visible').first();
      const box = await slider.boundingBox();
      const y = box.y + box.height / 2;
      await page.mouse.move(box.x + box.width / 2, y);
      await page.mouse.down();
      await page
        .getByRole('button', { name: 'reset' })
        .evaluate((button) => button.click(), undefined, { timeout: 500 })
        .catch(() => undefined);
      await page.evaluate(() => Object.assign(window.seen, { interactions: [], commits: 0, components: 0, moves: 0 }));
      await slider.evaluate((element) => {
        element.addEventListener('pointermove', () => window.seen.moves++);
      });
      // Sent as a mouse sends them, whether or not the page has followed: waiting for each would measure the waiting.
      const cdp = await page.context().newCDPSession(page);
      const until = Date.now() + 1000 * SECONDS;
      let sent = 0;
      for (; Date.now() < until; sent++) {
        const x = box.x + box.width * (0.5 + 0.4 * Math.sin(sent / 40));
        cdp
          .send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y, button: 'left', buttons: 1 })
          .catch(() => undefined);
        await new Promise((resolve) => setTimeout(resolve, 16));
      }
      const seen = await page.evaluate(() => window.seen);
      await page.mouse.up();
      const load = await page.locator('[data-meter="DSP load"]').textContent();
      const longest = Math.max(16, ...seen.interactions);
      rows.push([
        `${name}, a slider dragged for ${SECONDS} s while it plays`,
        `${(seen.moves / SECONDS).toFixed(1)} moves a second followed of ${(sent / SECONDS).toFixed(0)} sent; longest interaction ${longest.toFixed(0)} ms; ${(seen.components / Math.max(1, seen.moves)).toFixed(0)} components a move in ${(seen.commits / Math.max(1, seen.moves)).toFixed(1)} commits; audio thread ${load} (a block lasts ${BLOCK.toFixed(2)} ms)`,
      ]);
    }
    return rows;
  } finally {
    await browser.close();
    await stop();
  }
}

/** Those of the demo that cost most while they play. */
const CHAINS = ['Isobar Choir', 'Bell Buoy'];

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const [what, result] of await benchmarkDrag()) console.log(`${what}: ${result}`);
