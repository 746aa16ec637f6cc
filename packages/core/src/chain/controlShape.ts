/** Changing how a control is made, without what it drives moving behind the designer's back. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { isScaled, printSetting, resolveSetting, type SettingValue } from '../params/params.ts';
import { toPlace } from '../params/types/paramScale.ts';
import { REFERENCE_RATE, type Timing } from '../timing/tempo.ts';
import { changeControl, controlAt, controlFor, controlPlace } from './panel.ts';
import type { ChainDocument, ControlDocument, Driven } from './schema.ts';
import { findTarget, type Target } from './targets.ts';

/** How a control counts: what a change of it may not move. */
export type ControlShape = Pick<ControlDocument, 'min' | 'max' | 'bend' | 'step'>;

/**
 * The chain with a control that counts otherwise: it stands where it stood, so that its number changes and what it drives
 * stays – but for a step that has no such number.
 */
export function reshapeControl(
  catalogue: Catalogue,
  chain: ChainDocument,
  id: string,
  shape: Partial<ControlShape>,
): ChainDocument {
  return changeControl(catalogue, chain, id, (control) => {
    const next = { ...control, ...shape };
    const standing = (value: number) => controlAt(next, controlPlace({ ...control, value }));
    return { ...next, value: standing(control.value), default: standing(control.default) };
  });
}

/**
 * The chain with a control that drives a setting over another range. Where it drives nothing else it turns, so that the
 * setting stays; what the new range does not reach goes to the nearest end.
 */
export function changeDriven(
  catalogue: Catalogue,
  chain: ChainDocument,
  id: string,
  target: string,
  part: Partial<Pick<Driven, 'from' | 'to' | 'bend'>>,
): ChainDocument {
  const found = findTarget(catalogue, chain, target);
  return changeControl(catalogue, chain, id, (control) => {
    const drives = control.drives.map((driven) => (driven.target === target ? { ...driven, ...part } : driven));
    const next = { ...control, drives };
    if (!found || drives.length > 1) return next;
    const value = controlFor(found.param, next, drives[0], found.value, chain.timing);
    return { ...next, value: value ?? controlAt(next, nearestEnd(found, drives[0], chain.timing)) };
  });
}

/** The end of a range that lies nearer to what a setting is, on its scale: 0 or 1 on the control's way. */
function nearestEnd({ param, value }: Target, { from, to }: Driven, timing: Timing): number {
  if (!isScaled(param)) return 0;
  const place = (setting: SettingValue) =>
    toPlace(param, resolveSetting(param, setting, timing, REFERENCE_RATE) as number);
  return Math.abs(place(to) - place(value)) < Math.abs(place(from) - place(value)) ? 1 : 0;
}

/** What a control drives and stands elsewhere than before, in words: `Hall, decay time: 4 s, was 9 s`. */
export function movedByControl(
  catalogue: Catalogue,
  before: ChainDocument,
  after: ChainDocument,
  id: string,
): readonly string[] {
  const drives = after.panel.find((control) => control.id === id)?.drives ?? [];
  return drives.flatMap(({ target }) => {
    const [was, is] = [before, after].map((chain) => findTarget(catalogue, chain, target));
    if (!was || !is) return [];
    const [old, now] = [printSetting(was.param, was.value), printSetting(is.param, is.value)];
    return old === now ? [] : [`${is.owner}, ${is.label}: ${now}, was ${old}`];
  });
}

/** Controls of the panel that another one has the same name as. */
export function sameNamed(panel: readonly ControlDocument[], { id, name }: ControlDocument): boolean {
  const plain = name.trim().toLowerCase();
  return plain !== '' && panel.some((other) => other.id !== id && other.name.trim().toLowerCase() === plain);
}
