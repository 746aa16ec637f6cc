import type { Meter } from '../../timing/tempo.ts';
import type { About, ChainDocument, RegionSettings } from '../schema.ts';
import type { ChainEdit } from './chainEdit.ts';
import { partName } from './names.ts';

type RenderSettings = ChainDocument['render'];

const ABOUT_NAMES: Partial<Record<keyof About, string>> = { kind: 'category' };
const RENDER_NAMES: Partial<Record<keyof RenderSettings, string>> = {
  leadIn: 'lead-in',
  anchor: 'alignment',
  level: 'normalisation of renders',
  seed: 'random seed',
  name: 'name of renders',
};
const REGION_NAMES: Partial<Record<keyof RegionSettings, string>> = {
  beyond: 'after the region',
  time: 'time base of the region',
  splice: 'output of the region',
  tail: 'splice tail',
  fade: 'crossfade of the splice',
};

/** Names the chain and, where it is given, notes the sound that it was made on. */
export function nameChain(name: string, sound?: { readonly name: string; readonly sha256: string }): ChainEdit {
  const noted = sound && { sound: sound.name, sha256: sound.sha256 };
  return {
    name: () => 'name of the chain',
    change: (before) => ({ ...before, name, ...(noted ? { about: { ...before.about, sound: noted } } : {}) }),
  };
}

export function changeAbout(part: Partial<About>): ChainEdit {
  return {
    name: () => partName(ABOUT_NAMES, part),
    change: (before) => ({ ...before, about: { ...before.about, ...part } }),
  };
}

/** `from`: what said it, when it was not typed, such as “tapped tempo” or “tempo from song.mid”. */
export function setTempo(tempo: number, from = 'tempo', meter?: Meter): ChainEdit {
  return {
    name: () => from,
    change: (before) => ({
      ...before,
      timing: { ...before.timing, tempo, meter: meter ? [...meter] : before.timing.meter },
    }),
  };
}

export function setMeter(meter: Meter): ChainEdit {
  return {
    name: () => 'meter',
    change: (before) => ({ ...before, timing: { ...before.timing, meter: [...meter] } }),
  };
}

/** Whether it goes by its own tempo or by that of the sound. */
export function followTempo(follows: ChainDocument['timing']['follows']): ChainEdit {
  return { name: () => 'tempo source', change: (before) => ({ ...before, timing: { ...before.timing, follows } }) };
}

export function changeRender(part: Partial<RenderSettings>): ChainEdit {
  return {
    name: () => partName(RENDER_NAMES, part),
    change: (before) => ({ ...before, render: { ...before.render, ...part } }),
  };
}

export function changeRegion(part: Partial<RegionSettings>): ChainEdit {
  return {
    name: () => partName(REGION_NAMES, part),
    change: (before) => ({ ...before, render: { ...before.render, region: { ...before.render.region, ...part } } }),
  };
}
