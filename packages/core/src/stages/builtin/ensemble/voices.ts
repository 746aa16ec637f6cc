/** The voices of an ensemble: how they are spread over the turn and over the sides. The picture draws from the same. */
export const MOST_VOICES = 8;

/** Where a voice stands in the common turn, 0…1: evenly spread at a distribution of 1, all together at 0. */
export function voicePhase(voice: number, voices: number, distribution: number): number {
  return (distribution * voice) / voices;
}

/** Where a voice stands between left (−1) and right (1) at full spread: outer ones first, so that few are wide too. */
export function voicePlace(voice: number, voices: number): number {
  return voices === 1 ? 0 : (2 * voice) / (voices - 1) - 1;
}

/** Delay of a voice at rest, in seconds: a little apart, so that they do not fall on each other. */
export function voiceRest(voice: number): number {
  return 0.007 + 0.0023 * voice;
}
