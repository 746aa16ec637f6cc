import type { StageSteps } from '../stages/contract.ts';

/** What a stage of one's own costs, in a few words. */
export function stepsText({ most, allowed, open }: StageSteps): string {
  const counted = (steps: number) => steps.toLocaleString('en');
  return `${open ? 'from' : 'at most'} ${counted(most)} of ${counted(allowed)} steps a sample`;
}
