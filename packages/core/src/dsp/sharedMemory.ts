/** Where pages may not share memory it is plain memory, and copied from thread to thread. */
const bufferOf = (bytes: number): SharedArrayBuffer | ArrayBuffer =>
  typeof SharedArrayBuffer === 'undefined' ? new ArrayBuffer(bytes) : new SharedArrayBuffer(bytes);

/** Memory that threads share, so that what is worked out in one is not copied to the other. */
export const sharedDoubles = (count: number): Float64Array => new Float64Array(bufferOf(8 * count));

/** The same, with samples in it. */
export function sharedSamples(samples: Float32Array): Float32Array {
  const shared = new Float32Array(bufferOf(4 * samples.length));
  shared.set(samples);
  return shared;
}
