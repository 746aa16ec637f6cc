/** What is told of a stage in the reference: on the page, on the command line and as JSON, from the same data. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { latencyText } from './latencyText.ts';
import { SCRIPT_KIND } from '../stages/language.ts';
import { stepsText } from './stepsText.ts';
import type { Modulator } from '../modulation/modulators/contract.ts';
import { FAMILIES, FAMILY_TITLES, measureText, type Family, type Stage } from '../stages/contract.ts';
import { describeRange, isScaled, labelOf, printSetting, type Param, type Params } from '../params/params.ts';
import { searchStages } from './searchStages.ts';

export interface ParamReference {
  readonly key: string;
  readonly label: string;
  readonly range: string;
  readonly default: string;
  readonly doc: string;
  /** How many there are of it, numbered and alike. */
  readonly count: number;
  /** True for times and rates, which can be given in beats. */
  readonly followsTempo: boolean;
  /** True when nothing can move it while it plays. */
  readonly fixed: boolean;
}

export interface StageReference {
  readonly kind: string;
  readonly title: string;
  readonly family: Family;
  readonly familyTitle: string;
  readonly runs: 'live' | 'offline';
  readonly summary: string;
  readonly keywords: readonly string[];
  /** What goes in and out, and the law of the dry/wet mix. */
  readonly facts: readonly string[];
  readonly params: readonly ParamReference[];
  readonly measures: readonly string[];
}

/** What is told of a modulator. */
export interface ModulatorReference {
  readonly kind: string;
  readonly title: string;
  readonly summary: string;
  readonly keywords: readonly string[];
  readonly facts: readonly string[];
  readonly params: readonly ParamReference[];
}

export function modulatorReferenceOf({
  kind,
  title,
  summary,
  keywords,
  polarity,
  params,
}: Modulator): ModulatorReference {
  return {
    kind,
    title,
    summary,
    keywords,
    facts: [
      polarity === 'both'
        ? 'Bipolar by default: around the setting, up and down alike.'
        : 'Unipolar by default: from the setting on, one way.',
      'A route can be bipolar or unipolar. It can modulate any number, time, rate or switch of a live stage, a branch or another modulator.',
    ],
    params: Object.entries(params).map(([key, param]) => paramReference(key, param, 1)),
  };
}

export function referenceOf(stage: Stage): StageReference {
  const { kind, title, family, runs, summary, keywords, mixLaw } = stage;
  const facts = [
    runs === 'offline' ? 'Offline: needs the whole clip.' : 'Runs in real time.',
    `Dry/wet mix law: ${mixLaw === 'linear' ? 'linear' : 'equal power'}.`,
  ];
  if (stage.holds) facts.push('Contains other stages.');
  facts.push(riseText(stage));
  if (stage.runs === 'live') {
    if (stage.widens) facts.push('Mono in, stereo out.');
    facts.push(latencyText(stage));
    if (stage.steps) facts.push(`Takes ${stepsText(stage.steps)}.`);
  }
  return {
    kind,
    title,
    family,
    familyTitle: FAMILY_TITLES[family],
    runs,
    summary,
    keywords,
    facts,
    params: Object.entries(stage.params)
      .filter(([key]) => !isRepeated(key, stage.params))
      .map(([key, param]) => paramReference(key, param, countOf(key, stage.params))),
    measures: (stage.heldTo ?? []).map((measure) => `${measureText(measure)} Measured ${measure.how}.`),
  };
}

/** By how much it may make a sound louder. */
export function riseText({ kind, mayRise }: Stage): string {
  if (kind === SCRIPT_KIND) return 'How loud it makes a sound is up to its text.';
  return mayRise ? `May make a sound louder: by ${mayRise.by}.` : 'Makes no sound louder.';
}

const NUMBERED = /^(.*?\D)(\d+)$/;

/** True for the second and later ones of parameters that are numbered and alike. */
function isRepeated(key: string, params: Params): boolean {
  const numbered = NUMBERED.exec(key);
  return numbered !== null && numbered[2] !== '1' && `${numbered[1]}1` in params;
}

function countOf(key: string, params: Params): number {
  const name = NUMBERED.exec(key)?.[1];
  return name === undefined ? 1 : Object.keys(params).filter((other) => NUMBERED.exec(other)?.[1] === name).length;
}

function paramReference(key: string, param: Param, count: number): ParamReference {
  return {
    key,
    label: labelOf(key, param),
    range: describeRange(param),
    default: printSetting(param, param.default),
    doc: param.doc,
    count,
    followsTempo: param.type === 'time' || param.type === 'rate',
    fixed: !isScaled(param) || param.fixed === true,
  };
}

/** Every stage, by family, in the order of the list. */
export function reference(
  catalogue: Catalogue,
): readonly { readonly family: Family; readonly stages: readonly StageReference[] }[] {
  return FAMILIES.map((family) => ({
    family,
    stages: catalogue.stages.filter((stage) => stage.family === family).map(referenceOf),
  })).filter(({ stages }) => stages.length > 0);
}

/** Stages that fit what is typed: by what they do, or by a parameter of that name. */
export function searchReference(catalogue: Catalogue, text: string): readonly Stage[] {
  const found = searchStages(catalogue, text);
  const wanted = text.trim().toLowerCase();
  if (wanted === '') return found;
  const byParam = catalogue.stages.filter(
    (stage) =>
      !found.includes(stage) &&
      Object.entries(stage.params).some(([key, param]) => labelOf(key, param).toLowerCase().startsWith(wanted)),
  );
  return [...found, ...byParam];
}
