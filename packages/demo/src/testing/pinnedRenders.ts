/** Renders whose bytes are pinned: every chain of the museum on several sounds, rates and regions, offline and live. */
import { createHash } from 'node:crypto';
import { cropClip, frameCount, type Clip } from '@hexenkessel/core/model';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { finishRender, lastClipStage, liveEnd, renderChain, renderRegion, resample } from '@hexenkessel/core/engine';
import { LiveEngine } from '@hexenkessel/core/live';
import { DEMO_CHAINS, DEMO_SOUNDS } from '../index.ts';
import { bankFor, clipOf } from './museum.ts';

/** One of them: its name, and the hash of its frames and of where it begins. */
export interface PinnedRender {
  readonly name: string;
  hash(): Promise<string>;
}

const SOUNDS = ['Harbour announcer', 'Boiler-room drums', 'Wind harp'];
const RATES = [44100, 48000];
/** Seconds of each sound that are used: enough for every stage to do its work. */
const LENGTH = 2;
/** In seconds: one that begins the sound and lets it ring, one from its middle that is spliced back. */
const REGIONS = [
  { start: 0, end: 1.1, spliced: false },
  { start: 0.6, end: 1.5, spliced: true },
];
/** Every so many chains is played too. */
const LIVE_EVERY = 3;
const LIVE_SECONDS = 1.5;
const BLOCK = 128;

const sounds = new Map<string, Promise<Clip>>();

/** The beginning of a sound of the museum, at a rate. */
function soundAt(name: string, rate: number): Promise<Clip> {
  const key = `${name} ${rate}`;
  const known = sounds.get(key);
  if (known) return known;
  const made = (async () => {
    const clip = await clipOf(DEMO_SOUNDS.find((sound) => sound.name === name)!);
    const short = cropClip(clip, 0, Math.min(frameCount(clip), Math.round(LENGTH * clip.sampleRate)));
    return {
      sampleRate: rate,
      origin: 0,
      channels: short.channels.map((side) => resample(side, rate / clip.sampleRate)),
    };
  })();
  sounds.set(key, made);
  return made;
}

function hashOf(channels: readonly Float32Array[], origin: number): string {
  const hash = createHash('sha256').update(`${channels.length} ${channels[0].length} ${origin}`);
  for (const side of channels) hash.update(new Uint8Array(side.buffer, side.byteOffset, side.byteLength));
  return hash.digest('hex').slice(0, 16);
}

async function offline(
  chain: ChainDocument,
  sound: string,
  rate: number,
  { start, end, spliced }: (typeof REGIONS)[0],
) {
  const source = await soundAt(sound, rate);
  const { channels, origin } = finishRender(
    renderRegion(BUILT_INS, {
      chain,
      source,
      sounds: await bankFor(chain),
      region: { start: Math.round(start * rate), end: Math.round(end * rate) },
      beyond: 'auto',
      splice: spliced ? { fade: Math.round(0.01 * rate), tail: 'overlap' } : undefined,
    }),
  );
  return hashOf(channels, origin);
}

/** What is heard from the beginning on, in blocks, as the page plays it. */
async function live(chain: ChainDocument, sound: string, rate: number) {
  const source = await soundAt(sound, rate);
  const bank = await bankFor(chain);
  const last = lastClipStage(BUILT_INS, chain);
  const before = {
    ...chain,
    stages: chain.stages.slice(0, last + 1),
    render: { ...chain.render, anchor: 'source' as const },
  };
  const clip = finishRender(renderChain(BUILT_INS, { chain: before, source, sounds: bank }));
  const engine = new LiveEngine(BUILT_INS, rate);
  const plan = liveEnd(BUILT_INS, chain, rate, bank);
  engine.load('work', { head: headOfClip(clip), plan, gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, Infinity);
  const frames = Math.floor((LIVE_SECONDS * rate) / BLOCK) * BLOCK;
  const heard = [new Float32Array(frames), new Float32Array(frames)];
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  for (let at = 0; at < frames; at += BLOCK) {
    engine.process(left, right, BLOCK);
    heard[0].set(left, at);
    heard[1].set(right, at);
  }
  return hashOf(heard, 0);
}

export const PINNED_RENDERS: readonly PinnedRender[] = [
  ...DEMO_CHAINS.flatMap((chain) =>
    SOUNDS.flatMap((sound) =>
      RATES.flatMap((rate) =>
        REGIONS.map((region) => ({
          name: `${chain.name}, ${sound}, ${rate} Hz, ${region.start}–${region.end} s${region.spliced ? ', spliced' : ''}`,
          hash: () => offline(chain, sound, rate, region),
        })),
      ),
    ),
  ),
  ...DEMO_CHAINS.filter((_, n) => n % LIVE_EVERY === 0).map((chain, n) => {
    const [sound, rate] = [SOUNDS[n % SOUNDS.length], RATES[n % RATES.length]];
    return { name: `${chain.name}, ${sound}, ${rate} Hz, live`, hash: () => live(chain, sound, rate) };
  }),
];
