// Peak memory of rendering five minutes of stereo through sixteen stages, as the page's worker does it (with its cache) and
// as the command line and the server do it: `node bench/memory.mjs`. Each in a process of its own, by its greatest RSS.
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const RATE = 48000;
const SECONDS = 300;
const CACHE = 256 * 1024 * 1024;
const MEBI = 1024 * 1024;

const live = Array.from({ length: 16 }, (_, n) => ({ id: `g${n}`, kind: 'gain', settings: { gain: n % 2 ? -1 : 1 } }));
const CHAINS = {
  'sixteen live stages': live,
  'reversed, sixteen live stages, reversed': [{ id: 'r1', kind: 'reverse' }, ...live, { id: 'r2', kind: 'reverse' }],
  'live and whole-clip stages in turns': live.flatMap((stage, n) =>
    n % 2 === 0 ? [stage] : [{ id: `r${n}`, kind: 'reverse' }],
  ),
};

async function render(name, kind) {
  const core = await import('./core.mjs');
  const chain = core.parseChain(core.BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Memory',
    stages: CHAINS[name],
    render: { tail: { mode: 'none' } },
  });
  const frames = SECONDS * RATE;
  const channels = [0, 1].map(() => new Float32Array(frames).fill(0.25));
  const source = { sampleRate: RATE, origin: 0, channels };
  const before = process.memoryUsage().rss;
  const cached = kind === 'with a cache' ? { cache: new core.ClipCache(CACHE), sourceKey: 's' } : {};
  const clip = core.finishRender(core.renderChain(core.BUILT_INS, { chain, source, ...cached }));
  const clipBytes = 4 * 2 * frames;
  const peak = process.resourceUsage().maxRSS * 1024;
  const without = before - clipBytes;
  console.log(
    `${name}, ${kind}: ${((peak - without) / MEBI).toFixed(0)} MiB above an idle process; one clip is ${(clipBytes / MEBI).toFixed(0)} MiB, ` +
      `allowed ${((3 * clipBytes + (cached.cache ? CACHE : 0)) / MEBI).toFixed(0)} (${clip.channels.length} channels)`,
  );
}

const [, file, name, kind] = process.argv;
if (name !== undefined) await render(name, kind);
else if (file === fileURLToPath(import.meta.url))
  for (const chain of Object.keys(CHAINS))
    for (const how of ['with a cache', 'without one'])
      spawnSync(process.execPath, [file, chain, how], { stdio: 'inherit' });
