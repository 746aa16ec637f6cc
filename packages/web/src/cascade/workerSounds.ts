/** The sounds that the render worker works with, fetched once, and copies of them in memory that all threads see. */
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { isMeant, soundUses, type FoundSound } from '@hexenkessel/core/engine';
import { WavReader } from '@hexenkessel/core/formats';
import { ArrivingSound } from './arrivingSound.ts';
import { FetchedBytes } from './fetchedBytes.ts';
import type { NamedSound, SoundKey, UsedSound } from './renderReport.ts';

const sources = new Map<string, Promise<ArrivingSound>>();
/** Decoded sounds that stages use; the oldest go when there are more than this. */
const MOST_USED = 8;
const useful = new Map<string, Promise<FoundSound>>();

/** The sound that is worked on, as it arrives. */
export function openSource({ id, sha256 }: SoundKey): Promise<ArrivingSound> {
  let source = sources.get(sha256);
  if (!source) {
    source = open(id);
    sources.clear(); // one decoded source is held; others come back from the browser's cache
    sources.set(sha256, source);
    source.then(({ whole }) => whole).catch(() => sources.delete(sha256));
  }
  return source;
}

/** All of the sound that is worked on. */
export async function loadSource(sound: SoundKey): Promise<Clip> {
  return (await openSource(sound)).whole;
}

/** Loads the sounds that a chain's stages name, as far as they are among `keys`. */
export function loadUsed(keys: readonly NamedSound[], chain: ChainDocument): Promise<UsedSound[]> {
  const loads = soundUses(BUILT_INS, chain).flatMap(({ ref }) => {
    const key = keys.find((sound) => isMeant(ref, sound));
    if (!key) return [];
    let load = useful.get(key.sha256);
    if (!load) {
      load = open(key.id).then(async ({ whole }) => ({ sha256: key.sha256, clip: await whole }));
      useful.set(key.sha256, load);
      load.catch(() => useful.delete(key.sha256));
      for (const old of useful.keys()) if (useful.size > MOST_USED) useful.delete(old);
    }
    return [load.then((found) => ({ ...found, name: key.name }))];
  });
  return Promise.all(loads);
}

async function open(soundId: string): Promise<ArrivingSound> {
  return new ArrivingSound(await WavReader.open(await FetchedBytes.open(`/api/sounds/${soundId}/audio`)));
}

const sharedClips = new WeakMap<Clip, Clip>();

/** The clip in memory that all threads see; the same one each time. */
export function shared(clip: Clip): Clip {
  if (clip.channels.every(({ buffer }) => buffer instanceof SharedArrayBuffer)) return clip;
  let copy = sharedClips.get(clip);
  if (!copy) {
    const channels = clip.channels.map((samples) => {
      const memory = new Float32Array(new SharedArrayBuffer(samples.byteLength));
      memory.set(samples);
      return memory;
    });
    const { sampleRate, origin, span } = clip;
    copy = span ? { sampleRate, origin, channels, span } : { sampleRate, origin, channels };
    sharedClips.set(clip, copy);
  }
  return copy;
}
