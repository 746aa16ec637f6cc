/** The sounds that the render worker works with, fetched once, and copies of them in memory that all threads see. */
import { InputError, type Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { isMeant, soundUses, type FoundSound } from '@hexenkessel/core/engine';
import { WavReader, bytesOfBlob } from '@hexenkessel/core/formats';
import type { NamedSound, UsedSound } from './renderReport.ts';

const sources = new Map<string, Promise<Clip>>();
/** Decoded sounds that stages use; the oldest go when there are more than this. */
const MOST_USED = 8;
const useful = new Map<string, Promise<FoundSound>>();

/** The sound that is worked on. */
export function loadSource(soundId: string, sha256: string): Promise<Clip> {
  let source = sources.get(sha256);
  if (!source) {
    source = fetchClip(soundId);
    sources.clear(); // one decoded source is held; others come back from the browser's cache
    sources.set(sha256, source);
    source.catch(() => sources.delete(sha256));
  }
  return source;
}

/** Loads the sounds that a chain's stages name, as far as they are among `keys`. */
export function loadUsed(keys: readonly NamedSound[], chain: ChainDocument): Promise<UsedSound[]> {
  const loads = soundUses(BUILT_INS, chain).flatMap(({ ref }) => {
    const key = keys.find((sound) => isMeant(ref, sound));
    if (!key) return [];
    let load = useful.get(key.sha256);
    if (!load) {
      load = fetchClip(key.id).then((clip) => ({ sha256: key.sha256, clip: shared(clip) }));
      useful.set(key.sha256, load);
      load.catch(() => useful.delete(key.sha256));
      for (const old of useful.keys()) if (useful.size > MOST_USED) useful.delete(old);
    }
    return [load.then((found) => ({ ...found, name: key.name }))];
  });
  return Promise.all(loads);
}

async function fetchClip(soundId: string): Promise<Clip> {
  const response = await fetch(`/api/sounds/${soundId}/audio`);
  if (!response.ok) throw new InputError(((await response.json()) as { detail: string }).detail);
  return (await WavReader.open(bytesOfBlob(await response.blob()))).readClip();
}

const sharedClips = new WeakMap<Clip, Clip>();

/** The clip in memory that all threads see; the same one each time. */
export function shared(clip: Clip): Clip {
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
