import type { Param } from '../params/params.ts';
import type { Stage } from './contract.ts';

/** Some parameters of a stage under what they are about; empty where they are not parted. */
export interface ParamGroup {
  readonly title: string;
  readonly params: readonly (readonly [key: string, param: Param])[];
}

/** The parameters of a stage in the order in which they are shown. */
export function groupsOf({ params, groups }: Pick<Stage, 'params' | 'groups'>): readonly ParamGroup[] {
  if (!groups) return [{ title: '', params: Object.entries(params) }];
  return Object.entries(groups).map(([title, keys]) => ({
    title,
    params: keys.map((key) => [key, params[key]] as const),
  }));
}
