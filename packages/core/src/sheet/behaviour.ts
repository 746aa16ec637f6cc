/** What a sheet says of a chain's panel, of what moves by itself, and of what is drawn over time. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { controlText } from '../chain/panel.ts';
import type { ChainDocument, ControlDocument } from '../chain/schema.ts';
import { findTarget, modulatorTitle } from '../chain/targets.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { labelOf, printSetting } from '../params/params.ts';
import { printRatio, printTime } from '../timing/expressions.ts';

export interface SheetControl {
  readonly name: string;
  readonly group: string;
  /** Where it stands. */
  readonly value: string;
  /** From where to where it goes, in its own words or numbers. */
  readonly range: string;
  /** What it drives, and over which range. */
  readonly drives: readonly string[];
  readonly note: string;
}

export interface SheetModulator {
  readonly title: string;
  readonly summary: string;
  readonly on: boolean;
  readonly note: string;
  /** Settings in words: `rate 1 bar`. */
  readonly settings: readonly string[];
  /** What it moves, and by how much. */
  readonly moves: readonly string[];
}

export function sheetControls(catalogue: Catalogue, chain: ChainDocument): SheetControl[] {
  return chain.panel.map((control) => ({
    name: control.name,
    group: control.group,
    value: controlText(control),
    range: rangeText(control),
    drives: [
      ...control.drives.flatMap(({ target, from, to }) => {
        const found = findTarget(catalogue, chain, target);
        if (!found) return [];
        const [first, last] = [from, to].map((end) => printSetting(found.param, end));
        return [`${found.owner}, ${found.label}: ${first} to ${last}`];
      }),
      ...routeTexts(catalogue, chain, control.id).map((text) => `modulates ${text}`),
    ],
    note: control.note,
  }));
}

function rangeText(control: ControlDocument): string {
  if (control.words.length > 0) return control.words.join(' … ');
  const end = (value: number) => controlText({ ...control, value });
  return `${end(control.min)} to ${end(control.max)}`;
}

export function sheetModulators(catalogue: Catalogue, chain: ChainDocument): SheetModulator[] {
  return chain.modulators.map((modulator) => {
    const { title, summary, params } = modulatorOf(modulator.kind);
    return {
      title: modulator.name ? `${modulator.name} (${title})` : modulatorTitle(modulator),
      summary,
      on: modulator.on,
      note: modulator.note,
      settings: Object.entries(params).map(
        ([key, param]) => `${labelOf(key, param)} ${printSetting(param, modulator.settings[key])}`,
      ),
      moves: routeTexts(catalogue, chain, modulator.id),
    };
  });
}

function routeTexts(catalogue: Catalogue, chain: ChainDocument, from: string): string[] {
  return chain.routes
    .filter((route) => route.from === from && route.on)
    .flatMap(({ to, depth, polarity, smoothing }) => {
      const found = findTarget(catalogue, chain, to);
      if (!found) return [];
      const way = polarity === 'both' ? 'bipolar' : 'unipolar';
      const lag = smoothing === 0 ? '' : `, smoothed over ${printTime(smoothing)}`;
      return [`${found.owner}, ${found.label} by ${printRatio(depth)} of its range, ${way}${lag}`];
    });
}

/** What is drawn over time, each in a sentence. */
export function sheetLanes(catalogue: Catalogue, chain: ChainDocument): string[] {
  return chain.lanes
    .filter(({ on }) => on)
    .flatMap(({ target, curve }) => {
      const found = findTarget(catalogue, chain, target);
      if (!found) return [];
      const over = { clip: 'the whole clip', seconds: 'seconds', beats: 'beats' }[curve.over];
      const { points, shapes = [] } = curve;
      const drawn = [
        ...shapes.map(({ shape, cycles }) => (cycles === 1 ? `a ${shape}` : `${cycles} × a ${shape}`)),
        ...(points.length > 0 ? [`${points.length} ${points.length === 1 ? 'breakpoint' : 'breakpoints'}`] : []),
      ];
      return [`${found.owner}, ${found.label}: ${drawn.join(', ')} over ${over}`];
    });
}
