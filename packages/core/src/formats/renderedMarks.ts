import type { Catalogue } from '../catalogue/catalogue.ts';
import type { ChainDocument } from '../chain/schema.ts';
import type { Span } from '../model/clip.ts';
import { planStages } from '../engine/plan/plan.ts';
import type { RegionRender } from '../engine/offline/region.ts';
import { NO_MARKS, type SoundMarks } from './common/soundMarks.ts';

interface Rendering {
  /** Of the source. */
  readonly frames: number;
  readonly sampleRate: number;
  readonly region?: RegionRender | undefined;
  /** Of the render: where it begins, from the source's first frame, and how long it is. */
  readonly originFrames: number;
  readonly renderFrames: number;
}

/**
 * What is left of a sound's marks in its render, in frames of the render. Loops and markers go where the chain puts what
 * they mark; where it can lie nowhere or in several places they are left out, as those are that fall out of the render.
 */
export function renderedMarks(
  catalogue: Catalogue,
  marks: SoundMarks,
  chain: ChainDocument,
  { frames, sampleRate, region, originFrames, renderFrames }: Rendering,
): SoundMarks {
  const planned = planStages(catalogue, chain, sampleRate);
  const retuned = planned.some((step) => catalogue.of(step).retunes);
  const root = retuned ? NO_MARKS : marks;
  const { rootKey, fineTune } = root;
  const none = { ...NO_MARKS, rootKey, fineTune };
  if (chain.render.anchor !== 'source') return none;
  const first = region?.region.start ?? 0;
  const length = region ? region.region.end - region.region.start : frames;
  /** A place of the source in the render; undefined where it has none. */
  const through = (at: number): number | undefined => {
    const outside = region && (at < region.region.start || at > region.region.end);
    if (outside) return region.splice ? at - originFrames : undefined;
    let place = at - first;
    let span: Span = { start: 0, end: length };
    for (const step of planned) {
      const stage = catalogue.of(step);
      if (step.runs === 'live') continue;
      // Its branches may each have their own time.
      if (stage.runs === 'live') return undefined;
      if (!stage.placeOf) return undefined;
      ({ at: place, span } = stage.placeOf(place, step.values, span));
    }
    const frame = Math.round(place) + first - originFrames;
    return frame >= 0 && frame <= renderFrames ? frame : undefined;
  };
  return {
    ...none,
    loops: marks.loops.flatMap((loop) => {
      const [a, b] = [through(loop.start), through(loop.end)];
      return a === undefined || b === undefined || a === b
        ? []
        : [{ ...loop, start: Math.min(a, b), end: Math.max(a, b) }];
    }),
    markers: marks.markers.flatMap((marker) => {
      const at = through(marker.at);
      return at === undefined ? [] : [{ ...marker, at }];
    }),
  };
}

/** What of a sound's marks did not come into its render: how many of each, and whether its root note. */
export interface LeftOutMarks {
  readonly loops: number;
  readonly markers: number;
  readonly root: boolean;
}

/** `after`: the marks as the render got them, before anybody changed them. */
export function leftOutMarks(before: SoundMarks, after: SoundMarks): LeftOutMarks {
  return {
    loops: before.loops.length - after.loops.length,
    markers: before.markers.length - after.markers.length,
    root: before.rootKey !== null && after.rootKey === null,
  };
}

/** The same in a sentence or two; undefined when nothing was left out. */
export function leftOutText({ loops, markers, root }: LeftOutMarks): string | undefined {
  const counted = (count: number, word: string) => (count === 0 ? [] : [`${count} ${word}${count === 1 ? '' : 's'}`]);
  const places = [...counted(loops, 'loop'), ...counted(markers, 'marker')].join(' and ');
  const marks = loops + markers === 1 ? 'what it marks has' : 'what they mark has';
  const sentences = [
    ...(places === ''
      ? []
      : [`Not taken over from the source: ${places}, since ${marks} no place or several in the render.`]),
    ...(root ? ['Not taken over from the source: the root note, since the chain changes the pitch.'] : []),
  ];
  return sentences.length === 0 ? undefined : sentences.join(' ');
}
