import { level, number } from '../params/params.ts';

/** What every branch can be switched to, beside: in this order. */
export const BRANCH_SWITCHES = ['muted', 'inverted'] as const;

/** What every branch has. */
export const BRANCH_PARAMS = {
  level: level({ default: 0, min: -96, max: 24, doc: 'How loud the branch is.' }),
  pan: number({ default: 0, min: -1, max: 1, doc: 'Its pan, from −1 on the left to 1 on the right.' }),
};
