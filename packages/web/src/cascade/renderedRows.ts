/** What the render worker knows of the rows that it rendered last. Outlines are small and kept; clips only as far as they fit. */
import { OutlineStream, outlineOf, type Outline } from '@hexenkessel/core/analysis';
import type { ClipCache, Output, TapWatch } from '@hexenkessel/core/engine';
import { cropClip, type Clip } from '@hexenkessel/core/model';
import type { RowCost, RowKey, RowPicture } from './renderReport.ts';

/** Outlines of stages that are remembered, whether their clips are kept or not; some 100 kB each. */
const MOST_OUTLINES = 256;

/** Where a row's sound is to be found. */
export interface RowPlace {
  readonly key: string;
  readonly start: number;
  readonly end: number;
  /** The stage at the top of the chain that it comes out of, or lies in. */
  readonly index: number;
}

interface Remembered {
  readonly outline: Outline;
  /** The same for the same content. */
  readonly clipId: number;
}

export class RenderedRows {
  private readonly cache: ClipCache;
  private readonly remembered = new Map<string, Remembered>();
  private readonly heard = new Map<string, OutlineStream>();
  private readonly places = new Map<RowKey, RowPlace>();
  /** Clips that are held whatever they take: the source, what the live stages at the end hear, the render. */
  private readonly held = new Map<RowKey, Clip>();
  private readonly ids = new WeakMap<Clip, number>();
  private lastId = 0;

  constructor(cache: ClipCache) {
    this.cache = cache;
  }

  /** Hears what comes out of stages whose clip does not fit. */
  readonly watch: TapWatch = ({ key, origin, frames, channels }) => {
    const stream = new OutlineStream(origin, frames, channels);
    this.heard.set(key, stream);
    return (samples, from, to, at) => stream.take(samples, from, to, at);
  };

  /** True for what need not be run again for its row's sake. */
  readonly known = (key: string): boolean => this.remembered.has(key);

  clear(): void {
    this.places.clear();
    this.held.clear();
    this.heard.clear();
  }

  /** A row whose clip is held. */
  hold(row: RowKey, clip: Clip, outline = outlineOf(clip)): RowPicture & RowCost {
    this.held.set(row, clip);
    let clipId = this.ids.get(clip);
    if (clipId === undefined) this.ids.set(clip, (clipId = ++this.lastId));
    return { key: row, ...outline, cost: 0, sharedBy: 1, clipId };
  }

  /** Holds what comes out of a stage beside its row. */
  holdOutput(row: RowKey, clip: Clip): void {
    this.held.set(row, clip);
  }

  /** The row of what came out of a stage. */
  row(output: Output, index: number, cost = 0, sharedBy = 1): RowPicture & RowCost {
    const row: RowKey = `stage:${output.id}`;
    const { outline, clipId } = this.outline(output);
    this.places.set(row, { key: output.key, start: outline.start, end: outline.end, index });
    return { key: row, ...outline, cost, sharedBy, clipId };
  }

  /** A row's clip, as far as it is kept. */
  clip(row: RowKey): Clip | undefined {
    const held = this.held.get(row);
    if (held) return held;
    const place = this.places.get(row);
    const clip = place && this.cache.get(place.key);
    return clip && cropClip(clip, place.start, place.end);
  }

  place(row: RowKey): RowPlace | undefined {
    return this.places.get(row);
  }

  private outline({ key, clip, cut }: Output): Remembered {
    const name = cut ? `${key}|cut` : key;
    const known = this.remembered.get(name);
    if (known) {
      this.remembered.delete(name);
      this.remembered.set(name, known); // used last, forgotten last
      return known;
    }
    const outline = clip ? outlineOf(clip) : this.heard.get(key)?.finish();
    if (!outline) throw new Error('Nothing was heard of a stage.');
    this.heard.delete(key);
    const fresh = { outline, clipId: ++this.lastId };
    this.remembered.set(name, fresh);
    for (const old of this.remembered.keys()) if (this.remembered.size > MOST_OUTLINES) this.remembered.delete(old);
    return fresh;
  }
}
