// What each view of the built page brings along before it can be used: bytes of scripts as they are sent, written to
// docs/page-weight.md. Then how long Start takes to show its largest part at a processor four times slower, and how much
// the Bench shifts; both printed, for a quiet machine. Run it with `node bench/routes.mjs`.
import { readdirSync, statSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { launch, startServer } from './application.mjs';

const PORT = 4697;
const SLOWER = 4;
const ASSETS = fileURLToPath(new URL('../packages/web/dist/assets/', import.meta.url));
const DOCUMENT = fileURLToPath(new URL('../docs/page-weight.md', import.meta.url));

const { base, stop } = await startServer(PORT);
const browser = await launch();

const idOf = async (kind, name) =>
  (await (await fetch(`${base}/api/${kind}`)).json()).find((entry) => entry.name === name).id;
const [chain, sound] = [await idOf('chains', 'Tide Turning'), await idOf('sounds', 'Foghorn')];
/** Views, with what shows that they can be used. */
const ROUTES = [
  ['Start', '/', (page) => page.getByRole('button', { name: /^Begin with/ }).first()],
  ['Library', '/library', (page) => page.getByRole('button', { name: /^Open/ }).first()],
  ['Sounds', '/sounds', (page) => page.getByRole('row').nth(1)],
  ['A sound', `/sounds/${sound}`, (page) => page.getByRole('button', { name: 'Begin a chain on it' })],
  ['Reference', '/reference/echo', (page) => page.getByRole('heading', { level: 2 })],
  ['Bench', `/bench/${chain}`, (page) => page.getByTestId('measures').filter({ hasText: /LUFS · \d+ ms/ })],
  ['Sheet', `/sheet/${chain}`, (page) => page.locator('article svg')],
];

/** Bytes as sent until the view can be used, by the browser's own record of them. */
async function weigh(path, usable) {
  const context = await browser.newContext();
  const page = await context.newPage();
  // The Bench goes on fetching once it can be used: that moment is taken down in the page.
  await page.addInitScript(() =>
    new MutationObserver(() => {
      const text = document.querySelector('[data-testid=measures]')?.textContent ?? '';
      if (/LUFS · \d+ ms/.test(text)) window.usable ??= performance.now();
    }).observe(document, { subtree: true, childList: true, characterData: true }),
  );
  await page.goto(base + path);
  await usable(page).waitFor();
  const until = await page.evaluate(() => window.usable ?? performance.now());
  const resources = await page.evaluate(() =>
    [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].map(
      ({ name, startTime, encodedBodySize }) => ({ path: new URL(name).pathname, startTime, bytes: encodedBodySize }),
    ),
  );
  await context.close();
  const sent = { page: 0, threads: 0, rest: 0 };
  for (const { path: name, bytes, startTime } of resources) {
    if (startTime > until || name.startsWith('/api/')) continue;
    if (!name.endsWith('.js')) sent.rest += bytes;
    else if (/Script-|Worker-|Worklet-/.test(name)) sent.threads += bytes;
    else sent.page += bytes;
  }
  return sent;
}

/** Milliseconds until the largest part of Start is there, nothing kept from before. */
async function largestPaint() {
  const context = await browser.newContext();
  const page = await context.newPage();
  const session = await context.newCDPSession(page);
  await session.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  await page.goto(base);
  await page
    .getByRole('button', { name: /^Begin with/ })
    .first()
    .waitFor();
  await page.waitForTimeout(1500);
  const time = await page.evaluate(
    () =>
      new Promise((resolve) =>
        new PerformanceObserver((list) => resolve(list.getEntries().at(-1).startTime)).observe({
          type: 'largest-contentful-paint',
          buffered: true,
        }),
      ),
  );
  await context.close();
  return time;
}

try {
  const kilobytes = (bytes) => (bytes / 1000).toFixed(0);
  const lines = [
    '# What each view brings along',
    '',
    'Kilobytes as they are sent to a browser that has nothing kept, until the view can be used: scripts of the page, scripts',
    'of its threads (without the audio worklet, which comes when it plays), and the rest without sounds and data (fonts, styles,',
    'the page itself).',
    'Made by `node bench/routes.mjs`; limits that a browser test holds: Start 300, Bench 420, threads 250.',
    '',
    '| view | scripts of the page | of its threads | rest |',
    '|---|---|---|---|',
  ];
  for (const [title, path, usable] of ROUTES) {
    const { page, threads, rest } = await weigh(path, usable);
    lines.push(`| ${title} | ${kilobytes(page)} | ${kilobytes(threads)} | ${kilobytes(rest)} |`);
    console.log(lines.at(-1));
  }
  const worklet = readdirSync(ASSETS).find((name) => /^engineWorklet-.*\.js\.br$/.test(name));
  lines.push('', `The audio worklet: ${kilobytes(statSync(ASSETS + worklet).size)} kB.`);
  writeFileSync(DOCUMENT, `${lines.join('\n')}\n`);
  const paints = [];
  for (let round = 0; round < 5; round++) paints.push(await largestPaint());
  console.log(
    `largest contentful paint of Start, ${SLOWER} times slower: ${paints.map((ms) => `${ms.toFixed(0)} ms`).join(', ')}`,
  );
} finally {
  await browser.close();
  await stop();
}
