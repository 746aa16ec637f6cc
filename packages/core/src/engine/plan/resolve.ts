import { branchWord, resolveSetting, type Params, type SettingValue, type SoundRef } from '../../params/params.ts';
import type { ResolvedValues } from '../../stages/contract.ts';
import type { Clip } from '../../model/clip.ts';
import type { Timing } from '../../timing/tempo.ts';
import type { SoundBank } from './soundBank.ts';

/** What settings come to: values in canonical units, and the sounds among them. */
export interface Resolved {
  readonly values: ResolvedValues<Params>;
  readonly sounds: Readonly<Record<string, Clip | undefined>>;
}
export type SettingResolver = (params: Params, settings: Readonly<Record<string, SettingValue>>) => Resolved;

/** Works the settings out, by their parameters. */
export function resolveAll(
  params: Params,
  settings: Readonly<Record<string, SettingValue>>,
  timing: Timing,
  sampleRate: number,
  bank: SoundBank,
): Resolved {
  const sounds: Record<string, Clip | undefined> = {};
  const values = Object.fromEntries(
    Object.entries(params).map(([key, param]) => {
      const setting = settings[key];
      if (param.type !== 'sound') return [key, resolveSetting(param, setting, timing, sampleRate)];
      const { sound, branch } = setting as SoundRef;
      if (branch !== undefined) return [key, branchWord(branch)];
      const found = sound === '' ? undefined : bank(setting as SoundRef);
      sounds[key] = found?.clip;
      return [key, found?.sha256 ?? ''];
    }),
  );
  return { values, sounds };
}
