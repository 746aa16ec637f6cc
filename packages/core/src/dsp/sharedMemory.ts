/** Memory that threads share, so that what is worked out in one is not copied to the other. */
export const sharedDoubles = (count: number): Float64Array => new Float64Array(new SharedArrayBuffer(8 * count));

/** The same, with samples in it. */
export function sharedSamples(samples: Float32Array): Float32Array {
  const shared = new Float32Array(new SharedArrayBuffer(4 * samples.length));
  shared.set(samples);
  return shared;
}
