import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ResolvedValues } from '../../stages/contract.ts';
import { isScaled, type Params } from '../../params/params.ts';
import { toCanonical, toPlace } from '../../params/types/paramScale.ts';
import type { Planned } from './planned.ts';

/**
 * Values that a stage may come to have while something moves it: as they are set, all moved ones at their least and at
 * their most, and each of them alone. What is longest or latest about a stage is found among these.
 */
export function reachableValues(catalogue: Catalogue, planned: Planned): ResolvedValues<Params>[] {
  const { values, moves } = planned;
  const { params } = catalogue.of(planned);
  const ends = moves.flatMap(({ key, lane, routes }): [string, [unknown, unknown]][] => {
    const param = params[key];
    if (param === undefined) return [];
    if (!isScaled(param)) return [[key, [false, true]]];
    const drawn = lane ? lane.points.map(({ value }) => value) : [values[key] as number];
    const depth = routes.reduce((sum, route) => sum + Math.abs(route.depth), 0);
    const least = toPlace(param, Math.min(...drawn)) - depth;
    const most = toPlace(param, Math.max(...drawn)) + depth;
    return [[key, [toCanonical(param, least), toCanonical(param, most)]]];
  });
  if (ends.length === 0) return [values];
  const all = (end: 0 | 1) => ({ ...values, ...Object.fromEntries(ends.map(([key, pair]) => [key, pair[end]])) });
  const alone = ends.flatMap(([key, pair]) => pair.map((value) => ({ ...values, [key]: value })));
  return [values, all(0), all(1), ...alone] as ResolvedValues<Params>[];
}
