/** The panel: a few controls, each of which drives settings of the chain over ranges that the designer has chosen. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { log, exp } from '../dsp/portableMath.ts';
import { InputError, shortened } from '../model/errors.ts';
import { mapShared, sameValue } from '../model/sharing.ts';
import { readAmount, written } from '../timing/quantity.ts';
import { bentWay } from '../modulation/curve.ts';
import { toPlace } from '../params/types/paramScale.ts';
import {
  blendSettings,
  isScaled,
  resolveSetting,
  shownOption,
  type Param,
  type SettingValue,
} from '../params/params.ts';
import { wholeNotes } from '../params/types/scale.ts';
import type { Timing } from '../timing/tempo.ts';
import { HEAD_ID } from '../heads/contract.ts';
import { freeId, idsOf } from './branches.ts';
import type { ChainDocument, ControlDocument, Driven } from './schema.ts';
import { findTarget, withSetting, type Target } from './targets.ts';

/** How strong the strongest bend is; see `bentWay`. */
const BENT = 6;

/** The share of a bent way at which a height is reached: the inverse of `bentWay`. */
function unbent(height: number, bend: number): number {
  if (bend > -1e-6 && bend < 1e-6) return height;
  const k = BENT * bend;
  return log(1 + height * (exp(k) - 1)) / k;
}

/** Where a control stands on its way, 0…1. */
export function controlPlace({ min, max, bend, value }: ControlDocument): number {
  if (max === min) return 0;
  return unbent(Math.max(0, Math.min(1, (value - min) / (max - min))), bend);
}

/** The number of a control at a place on its way, 0…1, on its steps. */
export function controlAt(control: ControlDocument, place: number): number {
  const { min, max, bend } = control;
  return onStep(control, min + (max - min) * bentWay(Math.max(0, Math.min(1, place)), bend));
}

/** The nearest number a control can stand on. */
export function onStep({ min, max, step }: ControlDocument, value: number): number {
  const bounded = Math.max(Math.min(min, max), Math.min(Math.max(min, max), value));
  if (step === 0) return bounded;
  const steps = Math.round((bounded - min) / step);
  const on = Number((min + steps * step).toPrecision(12));
  return Math.max(Math.min(min, max), Math.min(Math.max(min, max), on));
}

/** What is read beside a control: its word, or its number and unit. */
export function controlText(control: ControlDocument): string {
  const { words, value, unit } = control;
  if (words.length > 0) return words[Math.round(controlPlace(control) * (words.length - 1))];
  const digits = Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 10 ? 1 : 2;
  return `${written(Number(value.toFixed(digits)))}${unit === '' ? '' : ` ${unit}`}`;
}

/**
 * Reads what was typed for a control: one of its words, or its number with or without its unit. InputError with what is
 * allowed.
 */
export function parseControl(control: ControlDocument, text: string): number {
  const { name, words, unit, min, max } = control;
  const word = words.findIndex((one) => one.toLowerCase() === text.trim().toLowerCase());
  if (word >= 0) return controlAt(control, words.length > 1 ? word / (words.length - 1) : 0);
  const [least, most] = [Math.min(min, max), Math.max(min, max)];
  const plain = text.trim();
  const withUnit = unit !== '' && plain.toLowerCase().endsWith(unit.toLowerCase());
  const value = readAmount(withUnit ? plain.slice(0, -unit.length) : plain, { '': 1 });
  if (value === undefined || value < least || value > most)
    throw new InputError(
      `"${shortened(text)}" is not allowed for the control "${name}"; allowed is ${[`${least} to ${most}`, ...words].join(', ')}.`,
    );
  return value;
}

/** The setting that a control gives to what it drives when it stands at a place on its way. */
export function drivenSetting(param: Param, { from, to, bend }: Driven, place: number, timing: Timing): SettingValue {
  return blendSettings(param, from, to, bentWay(Math.max(0, Math.min(1, place)), bend), timing);
}

/** The control that drives a setting, and how. */
export function driverOf(
  chain: ChainDocument,
  target: string,
): { readonly control: ControlDocument; readonly driven: Driven } | undefined {
  for (const control of chain.panel) {
    const driven = control.drives.find((one) => one.target === target);
    if (driven) return { control, driven };
  }
  return undefined;
}

/** The chain with every driven setting where its control puts it. */
export function applyPanel(catalogue: Catalogue, chain: ChainDocument): ChainDocument {
  const panel = mapShared(chain.panel, standing);
  let applied = panel === chain.panel ? chain : { ...chain, panel };
  for (const control of panel) {
    const place = controlPlace(control);
    for (const driven of control.drives) {
      const target = findTarget(catalogue, chain, driven.target);
      if (!target) continue;
      const setting = drivenSetting(target.param, driven, place, chain.timing);
      if (!sameValue(setting, target.value)) applied = withSetting(catalogue, applied, driven.target, setting);
    }
  }
  return applied;
}

/** A control with its value and its default on its steps. */
function standing(control: ControlDocument): ControlDocument {
  const value = onStep(control, control.value);
  const first = onStep(control, control.default);
  return value === control.value && first === control.default ? control : { ...control, value, default: first };
}

/** The chain with one control changed, and what it drives with it. */
export function changeControl(
  catalogue: Catalogue,
  chain: ChainDocument,
  id: string,
  change: (control: ControlDocument) => ControlDocument,
): ChainDocument {
  const panel = chain.panel.map((control) => (control.id === id ? change(control) : control));
  return applyPanel(catalogue, { ...chain, panel });
}

/** The chain with a control turned to a number, or the nearest it can stand on. */
export function turnControl(catalogue: Catalogue, chain: ChainDocument, id: string, value: number): ChainDocument {
  return changeControl(catalogue, chain, id, (control) => ({ ...control, value }));
}

/**
 * The number at which a control gives a setting to what it drives; undefined when it lies outside what the control
 * reaches, or has no place between its ends.
 */
export function controlFor(
  param: Param,
  control: ControlDocument,
  driven: Driven,
  wanted: SettingValue,
  timing: Timing,
): number | undefined {
  const share = shareBetween(param, driven, wanted, timing);
  if (share === undefined || share < -1e-9 || share > 1 + 1e-9) return undefined;
  return controlAt(control, unbent(Math.max(0, Math.min(1, share)), driven.bend));
}

function shareBetween(param: Param, { from, to }: Driven, wanted: SettingValue, timing: Timing): number | undefined {
  if (!isScaled(param)) {
    if (wanted === from) return 0;
    if (wanted === to) return 1;
    if (param.type !== 'choice') return undefined;
    const [first, last, at] = [from, to, wanted].map((word) => param.options.indexOf(word as string));
    return first === last ? undefined : (at - first) / (last - first);
  }
  const lengths = [from, to, wanted].map((value) => wholeNotes(value, timing));
  const [first, last, at] =
    lengths[0] !== undefined && lengths[1] !== undefined && lengths[2] !== undefined
      ? lengths.map((length) => log(length as number))
      : [from, to, wanted].map((value) =>
          toPlace(param, resolveSetting(param, value, timing, REFERENCE_RATE) as number),
        );
  if (first === last) return at === first ? 0 : undefined;
  return (at - first) / (last - first);
}

/** The range that a control gets over a setting at first: all of its scale, or from half to double a musical length. */
export function firstRange({ param, value }: Target, timing: Timing): { from: SettingValue; to: SettingValue } {
  if (param.type === 'choice') return { from: param.options[0], to: param.options[param.options.length - 1] };
  if (!isScaled(param)) return { from: false, to: true };
  const length = wholeNotes(value, timing);
  if (length === undefined) return { from: param.min, to: param.max };
  const beats = length * timing.meter[1];
  const inRange = (candidate: SettingValue) => {
    const resolved = resolveSetting(param, candidate, timing, REFERENCE_RATE) as number;
    return resolved >= param.min && resolved <= param.max;
  };
  const [half, double] = [{ beats: beats / 2 }, { beats: beats * 2 }];
  return { from: inRange(half) ? half : value, to: inRange(double) ? double : value };
}

/**
 * The chain with a setting pinned: to a new control that stands where the setting is, or to one that is there already,
 * which then takes it along. InputError for what no control can drive or another drives.
 */
export function pinSetting(
  catalogue: Catalogue,
  chain: ChainDocument,
  target: string,
  controlId?: string,
): ChainDocument {
  const found = findTarget(catalogue, chain, target);
  if (!found) throw new InputError(`The chain has no setting "${target}".`);
  const { param, label, owner } = found;
  if (!isScaled(param) && param.type !== 'toggle' && param.type !== 'choice')
    throw new InputError(`${owner}, ${label}: a control drives numbers, choices and switches; this is none of them.`);
  const driver = driverOf(chain, target);
  if (driver) throw new InputError(`${owner}, ${label} is driven by "${driver.control.name}" already.`);
  const driven: Driven = { target, ...firstRange(found, chain.timing), bend: 0 };
  if (controlId !== undefined)
    return changeControl(catalogue, chain, controlId, (control) => ({
      ...control,
      drives: [...control.drives, driven],
    }));
  const fresh: ControlDocument = {
    id: freeId('control', takenIds(chain)),
    name: freshName(chain.panel, label.charAt(0).toUpperCase() + label.slice(1)),
    group: '',
    note: '',
    unit: '%',
    min: 0,
    max: 100,
    bend: 0,
    step: 0,
    default: 0,
    value: 0,
    words:
      param.type === 'toggle'
        ? ['off', 'on']
        : param.type === 'choice'
          ? param.options.map((option) => shownOption(param, option))
          : [],
    locked: false,
    drives: [driven],
  };
  const value = controlFor(param, fresh, driven, found.value, chain.timing) ?? 0;
  return applyPanel(catalogue, { ...chain, panel: [...chain.panel, { ...fresh, value, default: value }] });
}

/** The name, with a number behind it where a control is called so already. */
function freshName(panel: readonly ControlDocument[], name: string): string {
  const taken = new Set(panel.map((control) => control.name.trim().toLowerCase()));
  for (let n = 1; ; n++) {
    const numbered = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(numbered.toLowerCase())) return numbered;
  }
}

/** The chain with a setting let go by the control that drives it; a control that drives nothing goes with it. */
export function unpinSetting(chain: ChainDocument, target: string): ChainDocument {
  const panel = chain.panel.flatMap((control) => {
    if (!control.drives.some((driven) => driven.target === target)) return [control];
    const drives = control.drives.filter((driven) => driven.target !== target);
    return drives.length > 0 ? [{ ...control, drives }] : [];
  });
  const gone = chain.panel.filter(({ id }) => !panel.some((control) => control.id === id)).map(({ id }) => id);
  return { ...chain, panel, routes: chain.routes.filter(({ from }) => !gone.includes(from)) };
}

/** Ids that a new stage, branch, modulator, route or control may not have. */
export function takenIds(chain: ChainDocument): Set<string> {
  const lists = [chain.modulators, chain.routes, chain.panel, chain.scripts].flat();
  return new Set([HEAD_ID, ...idsOf(chain), ...lists.map(({ id }) => id)]);
}
