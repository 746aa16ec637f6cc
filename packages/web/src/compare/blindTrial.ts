/** A comparison of two things whose names are hidden: which is which is drawn anew for every round. */
export interface BlindTrial {
  /** For each round, whether the first button plays the second thing. */
  readonly swapped: readonly boolean[];
  /** What was preferred, round by round: the first thing (0) or the second (1). */
  readonly picks: readonly (0 | 1)[];
}

export type Button = 'X' | 'Y';

/** `random` gives numbers in [0, 1). */
export function beginTrial(rounds: number, random: () => number): BlindTrial {
  return { swapped: Array.from({ length: rounds }, () => random() < 0.5), picks: [] };
}

/** Which thing a button plays in the round at hand. */
export function behind({ swapped, picks }: BlindTrial, button: Button): 0 | 1 {
  return (button === 'Y') !== (swapped[picks.length] ?? false) ? 1 : 0;
}

export function pick(trial: BlindTrial, button: Button): BlindTrial {
  return { ...trial, picks: [...trial.picks, behind(trial, button)] };
}

export function isOver({ swapped, picks }: BlindTrial): boolean {
  return picks.length >= swapped.length;
}

/** How often each was preferred, and how often pure guessing would give a result as one-sided or more. */
export function resultOf({ picks }: BlindTrial): {
  readonly counts: readonly [number, number];
  readonly chance: number;
} {
  const second = picks.reduce<number>((sum, thing) => sum + thing, 0);
  const counts = [picks.length - second, second] as const;
  return { counts, chance: chanceOf(Math.max(...counts), picks.length) };
}

/** Probability that a fair coin thrown `throws` times shows one side at least `often` times (two-sided binomial test). */
export function chanceOf(often: number, throws: number): number {
  let ways = 1; // of `throws` to show one side k times
  let outer = 0;
  for (let k = 0; k <= throws; k++) {
    if (k >= often || k <= throws - often) outer += ways;
    ways = (ways * (throws - k)) / (k + 1);
  }
  return Math.min(1, outer / 2 ** throws);
}
