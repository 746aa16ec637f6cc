import type { StageSteps } from '../stages/contract.ts';

/** Steps that a sample may take, averaged over a block. */
export const STEPS_A_SAMPLE = 2000;

/** What a part of a script costs, in steps: one for each operation, call and place that is read or written. */
export interface Cost {
  /** Taken each time it is gone through, but for loops and for branches that count their own. */
  readonly always: number;
  /** Taken at the most, with the rounds of loops as far as they are known from the text. */
  readonly most: number;
  /** True where some loop runs as long as it likes: then `most` counts one round of it. */
  readonly open: boolean;
}

export const FREE: Cost = { always: 0, most: 0, open: false };

/** A part of so many steps, without loops. */
export const stepsOf = (steps: number): Cost => ({ always: steps, most: steps, open: false });

/** As it is told of a stage. */
export const scriptSteps = ({ most, open }: Cost): StageSteps => ({
  most: Math.ceil(most),
  allowed: STEPS_A_SAMPLE,
  open,
});

/** One after the other. */
export const both = (a: Cost, b: Cost): Cost => ({
  always: a.always + b.always,
  most: a.most + b.most,
  open: a.open || b.open,
});

/** One or the other. */
export const either = (a: Cost, b: Cost): Cost => ({
  always: Math.max(a.always, b.always),
  most: Math.max(a.most, b.most),
  open: a.open || b.open,
});

/** A loop, whose rounds count their own steps as they come; `rounds`: undefined where the text does not say how many. */
export const rounds = (round: Cost, count: number | undefined): Cost => ({
  always: 0,
  most: round.most * (count ?? 1),
  open: round.open || count === undefined,
});
