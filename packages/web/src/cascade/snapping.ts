/** Where the edges of a region jump to. */

/** The nearest of some places, in order, as long as it is no further than `reach`; undefined otherwise. */
export function nearest(places: readonly number[], at: number, reach: number): number | undefined {
  let low = 0;
  let high = places.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (places[middle] < at) low = middle + 1;
    else high = middle;
  }
  const found = [places[low - 1], places[low]]
    .filter((place) => place !== undefined)
    .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
  return found !== undefined && Math.abs(found - at) <= reach ? found : undefined;
}

/**
 * The frame nearest to `at` before which the sound crosses zero, over all channels together, no further than `reach`
 * frames; `at` itself where there is none.
 */
export function zeroCrossing(channels: readonly Float32Array[], at: number, reach: number): number {
  const total = channels[0]?.length ?? 0;
  const sum = (frame: number) => channels.reduce((all, samples) => all + samples[frame], 0);
  const crosses = (frame: number) => frame > 0 && frame < total && sum(frame - 1) <= 0 !== sum(frame) <= 0;
  for (let away = 0; away <= reach; away++) {
    if (crosses(at - away)) return at - away;
    if (crosses(at + away)) return at + away;
  }
  return at;
}
