/**
 * A stretch of sound in memory. `origin` is the frame, relative to the source's first frame, at which it starts:
 * negative for what sounds before the source. All channels have the same length.
 */
export interface Clip {
  readonly sampleRate: number;
  readonly origin: number;
  readonly channels: readonly Float32Array[];
  /** Said by a stage that has changed where the source lies or how long it lasts. */
  readonly span?: Span;
  /** In a copy of a source, the frames that may differ from it; all of them when left out. */
  readonly touched?: Span;
}

/** The frames [start, end) that are the source itself; the rest of a clip is overhang. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** The time that what moves goes by, where it is not that of the source at hand: a source may be a stretch of a sound. */
export interface Timeline {
  /** Where the source's first frame lies on it. */
  readonly place: number;
  /** Where the sound lies on it. */
  readonly span: Span;
}

export function frameCount(clip: Clip): number {
  return clip.channels[0].length;
}

/** First frame after the clip, relative to the source's first frame. */
export function clipEnd(clip: Clip): number {
  return clip.origin + frameCount(clip);
}

export function clipBytes(clip: Clip): number {
  return clip.channels.length * frameCount(clip) * 4;
}

/**
 * The clip's content over [start, end), silence where it has none. Returns the clip itself when nothing changes.
 */
export function cropClip(clip: Clip, start: number, end: number): Clip {
  if (start === clip.origin && end === clipEnd(clip)) return clip;
  const channels = clip.channels.map((samples) => {
    const out = new Float32Array(Math.max(0, end - start));
    const from = Math.max(start, clip.origin);
    const to = Math.min(end, clipEnd(clip));
    if (to > from) out.set(samples.subarray(from - clip.origin, to - clip.origin), from - start);
    return out;
  });
  return { sampleRate: clip.sampleRate, origin: start, channels };
}
