import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { SettingValue } from '../../params/params.ts';
import { isSynced } from '../../timing/tempo.ts';
import { allStages } from '../branches.ts';
import type { ChainDocument } from '../schema.ts';
import * as settings from '../setSetting.ts';
import { findTarget, splitTarget } from '../targets.ts';
import type { ChainEdit } from './chainEdit.ts';
import { labelIn } from './names.ts';

/** Changes one setting; where a control of the panel drives it, the control is turned. */
export function setSetting(catalogue: Catalogue, target: string, value: SettingValue): ChainEdit {
  return {
    name: (before) => {
      const found = findTarget(catalogue, before, target);
      return found ? `${found.label} of ${found.owner}` : target;
    },
    change: (before) => settings.setSetting(catalogue, before, target, value),
  };
}

/** What a stage has to do while it plays: its toggle, by what doing or undoing it is called. */
export function turnSwitch(catalogue: Catalogue, target: string, on: boolean): ChainEdit {
  return {
    name: (before) => {
      const { id, key } = splitTarget(target);
      const stage = allStages(before.stages).find((one) => one.stage.id === id)?.stage;
      const param = stage && catalogue.for(before).of(stage).params[key];
      const act = param?.type === 'toggle' ? param.act : undefined;
      return act ? (on ? act.on : act.off) : labelIn(catalogue, before, target);
    },
    change: (before) => settings.setSetting(catalogue, before, target, on),
  };
}

/** A time or rate that follows the tempo no longer does, and the other way round. InputError for other settings. */
export function switchSync(catalogue: Catalogue, target: string): ChainEdit {
  return {
    name: (before) => {
      const found = findTarget(catalogue, before, target);
      return `tempo sync ${isSynced(found?.value) ? 'off' : 'on'}: ${found?.label ?? target}`;
    },
    change: (before) => {
      const found = findTarget(catalogue, before, target);
      if (!found) return before;
      const value = settings.syncSwitched(found.param, found.value, before.timing);
      return settings.setSetting(catalogue, before, target, value);
    },
  };
}

/** A setting that variations leave as it is, and the other way round. */
export function switchLock(catalogue: Catalogue, target: string): ChainEdit {
  const isLocked = ({ locked }: ChainDocument) => locked.includes(target);
  return {
    name: (before) => `${isLocked(before) ? 'unlock' : 'lock'} ${labelIn(catalogue, before, target)}`,
    change: (before) => ({
      ...before,
      locked: isLocked(before) ? before.locked.filter((one) => one !== target) : [...before.locked, target],
    }),
  };
}
