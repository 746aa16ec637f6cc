/** What a chain's sheet says, before it is laid out as a page, Markdown or HTML. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { Outline } from '../analysis/outline.ts';
import { widenOverview, type Overview } from '../analysis/overview.ts';
import { branchName, numberedStages, type Numbered } from '../chain/branches.ts';
import { stageTitle } from '../chain/edit.ts';
import type { ChainDocument } from '../chain/schema.ts';
import { targetsOf } from '../chain/targets.ts';
import { sheetControls, sheetLanes, sheetModulators, type SheetControl, type SheetModulator } from './behaviour.ts';
import { STAGE_PARAMS } from '../stages/stageParams.ts';
import { FAMILY_TITLES } from '../stages/contract.ts';
import { labelOf, paramUnder, printSetting, type Param, type SettingValue } from '../params/params.ts';
import { showLevel, showOtherUnits, showSeconds } from '../timing/display.ts';
import { printLevel, printRatio, printTime } from '../timing/expressions.ts';
import { isSynced, resolveTime, type TimeValue, type Timing } from '../timing/tempo.ts';

/** One row of the Cascade: the sound after a stage, on a ruler shared with the other rows. */
export interface SheetRow {
  readonly title: string;
  readonly sampleRate: number;
  readonly sourceFrames: number;
  readonly overview: Overview;
  /** dBFS. */
  readonly peak: number;
}

export interface SheetSetting {
  readonly label: string;
  readonly value: string;
  /** The same in other units; empty when there are none. */
  readonly also: string;
  readonly doc: string;
}

export interface SheetStage {
  /** `2`, or `2b1` inside another. */
  readonly number: string;
  /** The branch it stands in; empty at the top. */
  readonly branch: string;
  readonly title: string;
  /** The stage's own title when the designer has given another, else empty. */
  readonly original: string;
  readonly family: string;
  readonly summary: string;
  readonly on: boolean;
  readonly note: string;
  readonly settings: readonly SheetSetting[];
}

export interface Sheet {
  readonly title: string;
  readonly summary: string;
  readonly facts: readonly (readonly [string, string])[];
  readonly controls: readonly SheetControl[];
  readonly stages: readonly SheetStage[];
  readonly modulators: readonly SheetModulator[];
  readonly lanes: readonly string[];
  readonly tempo: string;
  readonly render: string;
  /** Markdown by the designer. */
  readonly notes: string;
  readonly rows: readonly SheetRow[];
  readonly timing: Timing;
}

/** The sheet of a chain. `rows` is the Cascade of an example sound; empty when there is none. */
export function sheetOf(
  catalogue: Catalogue,
  chain: ChainDocument,
  rows: readonly SheetRow[],
  options: { sampleRate?: number; version?: string } = {},
): Sheet {
  const { about } = chain;
  const facts: [string, string][] = [
    ['category', about.kind],
    ['character', about.character.join(', ')],
    ['tags', about.tags.join(', ')],
    ['rating', about.rating > 0 ? `${about.rating} of 5` : ''],
    ['version', options.version ?? ''],
    ['author', about.author],
    ['licence', about.licence],
  ];
  return {
    title: chain.name,
    summary: about.summary,
    facts: facts.filter(([, value]) => value !== ''),
    controls: sheetControls(catalogue, chain),
    modulators: sheetModulators(catalogue, chain),
    lanes: sheetLanes(catalogue, chain),
    stages: numberedStages(catalogue, chain).map((numbered) =>
      describeStage(catalogue.for(chain), numbered, chain.timing, options.sampleRate ?? REFERENCE_RATE),
    ),
    tempo: tempoSentence(catalogue, chain),
    render: renderSentence(chain),
    notes: about.notes,
    rows,
    timing: chain.timing,
  };
}

function describeStage(
  catalogue: Catalogue,
  { stage, number, branch = '' }: Numbered,
  timing: Timing,
  sampleRate: number,
): SheetStage {
  const definition = catalogue.of(stage);
  const settings = Object.entries(definition.params).map(([key, declared]) => {
    const param = paramUnder(declared, stage.settings);
    const value = stage.settings[key];
    return {
      label: labelOf(key, param),
      value: printSetting(param, value),
      also: otherUnits(param, value, timing, sampleRate),
      doc: param.doc,
    };
  });
  if (stage.mix !== 1) {
    settings.unshift({
      label: labelOf('mix', STAGE_PARAMS.mix),
      value: printRatio(stage.mix),
      also: '',
      doc: `Dry/wet mix, ${definition.mixLaw === 'linear' ? 'linear' : 'equal-power'} law`,
    });
  }
  if (stage.level !== 0) {
    settings.push({
      label: labelOf('level', STAGE_PARAMS.level),
      value: printLevel(stage.level),
      also: '',
      doc: 'Output level.',
    });
  }
  for (const branchDocument of stage.branches ?? []) {
    const { level, pan, muted, inverted } = branchDocument;
    const place = pan === 0 ? '' : `, ${Math.round(100 * Math.abs(pan))} % ${pan < 0 ? 'L' : 'R'}`;
    settings.push({
      label: branchName(catalogue, stage, branchDocument),
      value: `${printLevel(level)}${place}${inverted ? ', polarity inverted' : ''}${muted ? ', muted' : ''}`,
      also: '',
      doc: 'Level and pan of the branch.',
    });
  }
  return {
    number,
    branch,
    title: stageTitle(catalogue, stage),
    original: stage.name ? definition.title : '',
    family: FAMILY_TITLES[definition.family],
    summary: definition.summary,
    on: stage.on,
    note: stage.note,
    settings,
  };
}

function otherUnits(param: Param, value: SettingValue, timing: Timing, sampleRate: number): string {
  return param.type === 'time' && value !== 0 ? showOtherUnits(value as TimeValue, timing, sampleRate) : '';
}

/** What follows the tempo, in one sentence. */
export function tempoSentence(catalogue: Catalogue, chain: ChainDocument): string {
  const synced = targetsOf(catalogue, chain)
    .filter(({ value }) => isSynced(value))
    .map(({ owner, label, param, value }) => `${label} of ${owner} (${printSetting(param, value)})`);
  const { tail, leadIn } = chain.render;
  if (tail.mode === 'fixed' && isSynced(tail.length)) synced.push(`the tail (${printTime(tail.length)})`);
  if (leadIn.mode === 'fixed' && isSynced(leadIn.length)) synced.push(`the lead-in (${printTime(leadIn.length)})`);
  const [beats, unit] = chain.timing.meter;
  const own = `It was made at ${chain.timing.tempo} bpm in ${beats}/${unit}`;
  const at = chain.timing.follows === 'sound' ? `${own} and follows the tempo of the sound` : own;
  if (synced.length === 0) return `${at}; nothing is tempo-synced.`;
  return `${at}; tempo-synced: ${synced.join(', ')}.`;
}

/** How it renders, in one sentence. */
export function renderSentence(chain: ChainDocument): string {
  const { tail, leadIn, anchor, channels, level } = chain.render;
  const tails = {
    fixed: () => `Its tail is ${lengthText((tail as { length: TimeValue }).length, chain.timing)}`,
    auto: () => `Its tail lasts until it falls below ${showLevel((tail as { below: number }).below)}FS`,
    none: () => 'It ends where the sound ends, without a tail',
  };
  const leads = {
    auto: () => 'its lead-in is automatic',
    fixed: () => `it begins ${lengthText((leadIn as { length: TimeValue }).length, chain.timing)} before the sound`,
    none: () => 'it begins with the sound',
  };
  const anchors = {
    source: 'it is aligned naturally',
    start: 'its first sound is placed on the onset of the original',
    end: 'its last sound is placed on the onset of the original',
  };
  const channelTexts = { 'as they come': '', mono: ' Output is mono.', stereo: ' Output is stereo.' };
  const levels = {
    none: () => '',
    peak: () => ` Normalised to a peak of ${showLevel((level as { to: number }).to)}FS.`,
    loudness: () => ` Normalised to ${(level as { to: number }).to} LUFS.`,
  };
  return `${tails[tail.mode]()}, ${leads[leadIn.mode]()}, and ${anchors[anchor]}.${channelTexts[channels]}${levels[level.mode]()}`;
}

function lengthText(length: TimeValue, timing: Timing): string {
  const seconds = showSeconds(resolveTime(length, timing, REFERENCE_RATE));
  const written = printTime(length);
  return isSynced(length) ? `${written} (${seconds} at ${timing.tempo} bpm)` : written;
}

const COLUMNS = 640;

/** What is drawn of the source, of the sound after each stage (by its place in the chain) and of the render. */
export interface SheetOutlines {
  readonly source: Outline;
  readonly after: ReadonlyMap<number, Outline>;
  readonly result: Outline;
}

/** The rows of a Cascade, brought to one ruler. */
export function sheetRows(
  catalogue: Catalogue,
  chain: ChainDocument,
  { sampleRate, frames: sourceFrames }: { readonly sampleRate: number; readonly frames: number },
  { source, after, result }: SheetOutlines,
): SheetRow[] {
  const known = catalogue.for(chain);
  const shown: [string, Outline][] = [
    ['source', source],
    ...chain.stages.flatMap((stage, index): [string, Outline][] => {
      const outline = after.get(index);
      return outline ? [[stageTitle(known, stage), outline]] : [];
    }),
    ['render', result],
  ];
  const start = Math.min(...shown.map(([, outline]) => outline.start));
  const end = Math.max(...shown.map(([, outline]) => outline.end));
  return shown.map(([title, { overview, peak }]) => ({
    title,
    sampleRate,
    sourceFrames,
    overview: widenOverview(overview, start, end, COLUMNS),
    peak,
  }));
}
