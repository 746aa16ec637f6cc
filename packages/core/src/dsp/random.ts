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
