/** Changing one setting of a chain, as a row or a typed line does it. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { InputError } from '../model/errors.ts';
import { remembered } from '../model/sharing.ts';
import {
  describeRange,
  isScaled,
  printSetting,
  resolveSetting,
  type Param,
  type SettingValue,
} from '../params/params.ts';
import { settingAt } from '../params/settingPlace.ts';
import { toPlace } from '../params/types/paramScale.ts';
import { isSynced, type Timing } from '../timing/tempo.ts';
import { changeStage, idsOf, withBranches } from './branches.ts';
import { controlFor, driverOf, turnControl } from './panel.ts';
import type { ChainDocument } from './schema.ts';
import { findTarget, withSetting } from './targets.ts';

/**
 * The chain with a setting changed. Where a control of the panel drives it, the control is turned instead, to what comes
 * nearest. InputError for what the control does not reach, and for a setting that is not there.
 */
export function setSetting(
  catalogue: Catalogue,
  chain: ChainDocument,
  name: string,
  value: SettingValue,
): ChainDocument {
  const target = findTarget(catalogue, chain, name);
  if (!target) throw new InputError(`The chain has no setting "${name}".`);
  const driver = driverOf(chain, name);
  if (!driver) {
    const changed = withSetting(catalogue, chain, name, value);
    // Settings may ask for another number of branches.
    if (target.of !== 'stage') return changed;
    return changeStage(changed, target.id, (stage) => withBranches(catalogue.for(chain), stage, idsOf(changed)));
  }
  const { control, driven } = driver;
  const turned = controlFor(target.param, control, driven, value, chain.timing);
  if (turned === undefined) {
    const written = (one: SettingValue) => printSetting(target.param, one);
    throw new InputError(
      `${target.owner}, ${target.label} is driven by the control "${control.name}" from ${written(driven.from)} to ${written(driven.to)}; ` +
        `${written(value)} lies outside. Widen its range on the panel, or unpin it.`,
    );
  }
  return turnControl(catalogue, chain, control.id, turned);
}

/**
 * A time or rate that follows the tempo, as the nearest note value; or, if it follows it already, what it is now in seconds
 * or hertz. InputError for a setting that is neither time nor rate.
 */
export function syncSwitched(param: Param, value: SettingValue, timing: Timing): SettingValue {
  if (!isScaled(param) || (param.type !== 'time' && param.type !== 'rate'))
    throw new InputError(`Only times and rates can follow the tempo; this takes ${describeRange(param)}.`);
  const now = resolveSetting(param, value, timing, REFERENCE_RATE) as number;
  if (isSynced(value)) return Number(now.toPrecision(6));
  return settingAt(param, toPlace(param, now), { note: '1/4' }, timing);
}

/** The chain as it is used on a sound: at the sound's tempo, if it goes by that and the sound has one. */
export function chainFor(chain: ChainDocument, sound: { readonly tempo: number | null } | undefined): ChainDocument {
  if (chain.timing.follows !== 'sound' || !sound?.tempo || sound.tempo === chain.timing.tempo) return chain;
  return chainAt(chain, sound.tempo);
}

const timingAt = remembered((timing: ChainDocument['timing'], tempo: number) => ({ ...timing, tempo }));
const chainAt = remembered((chain: ChainDocument, tempo: number) => ({
  ...chain,
  timing: timingAt(chain.timing, tempo),
}));
