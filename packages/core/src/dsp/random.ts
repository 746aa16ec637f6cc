/** A source of uniformly distributed numbers in [0, 1). */
export type Random = () => number;

/**
 * Seeded generator "mulberry32": 32 bits of state, integer arithmetic only, so every engine gives the same sequence.
 * Good enough for noise, dither and scatter; not for secrets.
 */
export function createRandom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A seed for one named part of a whole (FNV-1a over the name), so that parts do not share a sequence. */
export function deriveSeed(seed: number, name: string): number {
  let hash = (2166136261 ^ seed) >>> 0;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 16777619) >>> 0;
  return hash;
}

/** A number in [0, 1) for each whole number: a sequence that can be read anywhere (finaliser of MurmurHash3, 32 bits). */
export function randomAt(seed: number, index: number): number {
  let t = (Math.imul(index | 0, 0x9e3779b1) ^ seed) >>> 0;
  t = Math.imul(t ^ (t >>> 16), 0x85ebca6b);
  t = Math.imul(t ^ (t >>> 13), 0xc2b2ae35);
  return ((t ^ (t >>> 16)) >>> 0) / 4294967296;
}
