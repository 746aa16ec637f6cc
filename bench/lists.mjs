// How fast lists are with 10,000 chains, 5,000 sounds and 5,000 renders: each question as often as is written, one after the
// other, with the time until all of the answer is there; how long health takes meanwhile; and how long Library and Sounds
// take to be shown. Run it with `node bench/lists.mjs` on a built application.
import { launch, newData, startServer } from './application.mjs';
import { fillStore } from './largeStore.mjs';

const PORT = 4696;
const TIMES = 30;
const data = newData();
await (await startServer(PORT, data)).stop({ keep: true });
const { soundIds } = fillStore(data, { chains: 10_000, sounds: 5_000, renders: 5_000 });

const started = performance.now();
const { base, stop } = await startServer(PORT, data);
console.log(`start: ${Math.round(performance.now() - started)} ms`);
const first = performance.now();
await fetch(`${base}/api/chains`);
console.log(`the first list, with every chain read once: ${Math.round(performance.now() - first)} ms`);

const sorted = (times) => [...times].sort((a, b) => a - b);
const told = (times) => {
  const all = sorted(times);
  return `median ${all[all.length >> 1].toFixed(1)}, slowest ${all.at(-1).toFixed(1)} ms`;
};
async function timed(path) {
  const before = performance.now();
  const answer = await fetch(base + path);
  const text = await answer.text();
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${text}`);
  return [performance.now() - before, text.length];
}

const health = [];
let asking = true;
const watching = (async () => {
  while (asking) {
    health.push((await timed('/api/health'))[0]);
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
})();
for (const path of [
  '/api/chains',
  '/api/chains?sort=name',
  '/api/chains?sort=-tags&find=fog',
  '/api/chains/names',
  '/api/sounds',
  '/api/sounds?sort=-loudness',
  '/api/sounds?find=harbour+tide',
  '/api/sounds/names',
  '/api/renders',
  '/api/storage',
  `/api/sounds/${soundIds[0]}/needs`,
  `/api/sounds/${soundIds[1]}/family`,
]) {
  const times = [];
  let bytes = 0;
  for (let n = 0; n < TIMES; n++) {
    const [ms, length] = await timed(path);
    times.push(ms);
    bytes = length;
  }
  console.log(`${path.replace(/[0-9A-Z]{26}/, '{id}')}: ${told(times)}, ${Math.round(bytes / 1000)} kB`);
}
asking = false;
await watching;
console.log(`health meanwhile: ${told(health)}`);

const browser = await launch();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(base);
const shown = { Library: [], Sounds: [] };
for (let n = 0; n < 6; n++)
  for (const [name, first] of [
    ['Library', page.getByRole('button', { name: /^Open (?!a chain)/ }).first()],
    ['Sounds', page.locator('[data-sound]').first()],
  ]) {
    const before = performance.now();
    await page.getByRole('banner').getByRole('link', { name, exact: true }).click();
    await first.waitFor();
    // The first time its code comes, too.
    if (n > 0) shown[name].push(performance.now() - before);
  }
for (const [name, times] of Object.entries(shown)) console.log(`${name} shown: ${told(times)}`);
await browser.close();
await stop();
