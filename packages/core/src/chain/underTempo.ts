/** What becomes of a chain's times and rates under another tempo. */
import { breakpointsOf } from '../modulation/stampedShape.ts';
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { labelOf, printSetting, resolveSetting, type Param, type SettingValue } from '../params/params.ts';
import { time } from '../params/params.ts';
import { isSynced } from '../timing/tempo.ts';
import type { ChainDocument } from './schema.ts';
import { targetsOf } from './targets.ts';

export interface TempoEffect {
  /** Whose it is, and what it is called. */
  readonly owner: string;
  readonly label: string;
  /** As it is written. */
  readonly written: string;
  readonly unit: 'seconds' | 'hertz';
  /** Under the chain's own tempo and under the other, as far as the range of the parameter lets it. */
  readonly now: number;
  readonly then: number;
  /** True when it moves with the tempo. */
  readonly follows: boolean;
  /** True when it would go past the parameter's range under the other tempo. */
  readonly outOfRange: boolean;
}

const LENGTH = time({ default: 0, min: 0, max: 600, doc: '' });

/** Every time and rate of a chain, with what it comes to under another tempo. */
export function underTempo(catalogue: Catalogue, chain: ChainDocument, tempo: number): TempoEffect[] {
  const other = { ...chain.timing, tempo };
  const effect = (owner: string, label: string, param: Param, value: SettingValue): TempoEffect => {
    const now = resolveSetting(param, value, chain.timing, REFERENCE_RATE) as number;
    const then = resolveSetting(param, value, other, REFERENCE_RATE) as number;
    const [min, max] = 'min' in param && 'curve' in param ? [param.min, param.max] : [-Infinity, Infinity];
    return {
      owner,
      label,
      written: printSetting(param, value),
      unit: param.type === 'rate' ? 'hertz' : 'seconds',
      now,
      then,
      follows: isSynced(value),
      outOfRange: then < min || then > max,
    };
  };
  const settings = targetsOf(catalogue, chain).flatMap(({ owner, label, param, value }) =>
    param.type === 'time' || param.type === 'rate' ? [effect(owner, label, param, value)] : [],
  );
  const lanes = chain.lanes.flatMap(({ target, curve }) => {
    const last = breakpointsOf(curve).points.at(-1)?.at ?? 0;
    if (curve.over === 'clip') return [];
    const found = targetsOf(catalogue, chain).find((candidate) => candidate.target === target);
    const name = found ? `lane of ${labelOf(found.key, found.param)}` : 'lane';
    return [effect(found?.owner ?? target, name, LENGTH, curve.over === 'beats' ? { beats: last } : last)];
  });
  const overhang = (
    [
      ['tail', chain.render.tail],
      ['lead-in', chain.render.leadIn],
    ] as const
  ).flatMap(([name, one]) => (one.mode === 'fixed' ? [effect('Render', name, LENGTH, one.length)] : []));
  return [...settings, ...lanes, ...overhang];
}
