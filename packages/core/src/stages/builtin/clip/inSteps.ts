/** Frames worked on between two moments in which whoever drives the work may breathe. */
const STEP = 1 << 15;

/** New channels of `frames` frames, filled step by step; yields the share done. */
export function* fillInSteps(
  channels: readonly Float32Array[],
  frames: number,
  fill: (samples: Float32Array, out: Float32Array, from: number, to: number, channel: number) => void,
): Generator<number, Float32Array[], void> {
  const filled = channels.map(() => new Float32Array(frames));
  for (let from = 0; from < frames; from += STEP) {
    const to = Math.min(frames, from + STEP);
    channels.forEach((samples, c) => fill(samples, filled[c], from, to, c));
    yield to / frames;
  }
  return filled;
}
