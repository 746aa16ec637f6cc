/** What comes out of stages while a chain is rendered: which of it is held, kept for later, or only heard. */
import type { Clip } from '../../model/clip.ts';
import type { Planned } from '../plan/planned.ts';
import type { ClipCache } from './cache.ts';
import type { Tap } from './runStream.ts';

/** What comes out of a stage: under what key it is kept, and the clip, where it is held. */
export interface Output {
  readonly id: string;
  readonly key: string;
  readonly clip: Clip | undefined;
  /** True when an automatic tail was cut off it; what is kept under the key is not. */
  readonly cut: boolean;
}

/** What comes out of a stage, and out of each of those inside it. */
export interface StageOutput extends Output {
  readonly inside: readonly Output[];
}

/** What a tap will give, before it does: its key, and its place on the timeline. */
export interface TapExtent {
  readonly key: string;
  readonly sampleRate: number;
  readonly origin: number;
  readonly frames: number;
  readonly channels: number;
}

/** Hears samples[from … to) of a tap, that lie `at` frames from its first. The arrays are the engine’s own. */
export type TapListener = (samples: readonly Float32Array[], from: number, to: number, at: number) => void;
export type TapWatch = (extent: TapExtent) => TapListener;

/** What is kept of the outputs of stages, and who hears of the rest. */
export interface Keeping {
  /**
   * Stage outputs are kept here and taken from here, as far as they fit, those of later stages first. Without it only the
   * result is held.
   */
  readonly cache?: ClipCache;
  /** Names the source's content, so that cached stages are found again. Needed with `cache`. */
  readonly sourceKey?: string;
  /** With a cache: true for the key of an output of which all is known, so that it need not be run again to be told of. */
  readonly known?: ((key: string) => boolean) | undefined;
  /** With a cache: is told what comes out of the stages whose output does not fit. */
  readonly watch?: TapWatch | undefined;
  /** With a cache: id of a stage whose output is held whatever it takes. */
  readonly wanted?: string | undefined;
}

/** The keys of what comes out of a stage, itself first, and of those inside it. */
export function keysOf(key: string, planned: Planned): { readonly id: string; readonly key: string }[] {
  return [{ id: planned.id, key }, ...idsInside(planned).map((id) => ({ id, key: `${key}>${id}` }))];
}

/** A stage's output from the cache, as far as it is there. */
export function takeKept(cache: ClipCache, key: string, planned: Planned): StageOutput {
  const [own, ...inside] = keysOf(key, planned).map((output): Output => ({
    ...output,
    clip: cache.get(output.key),
    cut: false,
  }));
  return { ...own, inside };
}

export function keep(cache: ClipCache, { inside, ...own }: StageOutput): void {
  for (const { key, clip } of [own, ...inside]) if (clip) cache.set(key, clip);
}

/** Which outputs of a run are held, and who hears of the others. */
export interface Holding {
  /** The keys, for each stage and for those inside it. */
  readonly outputs: readonly (readonly { readonly id: string; readonly key: string }[])[];
  /** Bytes for all that is held, the last stage’s own output not counted; 0 where only that is wanted. */
  readonly bytes: number;
  readonly wanted: string | undefined;
  readonly watch: TapWatch | undefined;
}

export function holdingOf(stages: readonly Planned[], keys: readonly string[], keeping: Keeping): Holding {
  const { cache, wanted, watch } = keeping;
  const outputs = stages.map((planned, n) => keysOf(keys[n], planned));
  return { outputs, bytes: cache?.capacity ?? 0, wanted, watch: cache && watch };
}

function idsInside({ branches }: Planned): string[] {
  return branches.flatMap(({ stages }) => stages.flatMap((stage) => [stage.id, ...idsInside(stage)]));
}

/** What is noted down of a tap: its samples, or what a listener makes of them, or nothing. */
export interface Recorder {
  readonly id: string;
  readonly key: string;
  readonly tap: Tap;
  readonly channels: Float32Array[] | undefined;
  readonly listener: TapListener | undefined;
}

export function recordersOf(
  taps: readonly (readonly Tap[])[],
  { outputs, bytes, wanted, watch }: Holding,
  { sampleRate, origin }: { readonly sampleRate: number; readonly origin: number },
): Recorder[][] {
  const sizeOf = ({ unit, frames }: Tap) => 4 * unit.output.length * frames;
  let room = bytes;
  const last = taps.length - 1;
  const recorders: Recorder[][] = [];
  for (let n = last; n >= 0; n--) {
    const size = taps[n].reduce((sum, tap) => sum + sizeOf(tap), 0);
    room -= size;
    const fits = room >= 0 && bytes > 0;
    recorders[n] = taps[n].map((tap, inner) => {
      const { id, key } = outputs[n][inner];
      const held = fits || (n === last && inner === 0) || id === wanted;
      const extent = { key, sampleRate, origin, frames: tap.frames, channels: tap.unit.output.length };
      return {
        id,
        key,
        tap,
        channels: held ? tap.unit.output.map(() => new Float32Array(tap.frames)) : undefined,
        listener: held ? undefined : watch?.(extent),
      };
    });
  }
  return recorders;
}
