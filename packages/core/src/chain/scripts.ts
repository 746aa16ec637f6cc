/** Scripts of a chain: taken in, exchanged for another text, let go of. */
import type { Catalogue, Script } from '../catalogue/catalogue.ts';
import { SCRIPT_KIND } from '../stages/language.ts';
import { isScaled, rangeFault } from '../params/params.ts';
import { REFERENCE_RATE } from '../timing/tempo.ts';
import { allStages, freeId, mapStages } from './branches.ts';
import { idOfTitle, newStage, stageTitle } from './edit.ts';
import { takenIds } from './panel.ts';
import type { ChainDocument, Driven, StageDocument } from './schema.ts';
import { findTarget, targetsOf, withoutDangling } from './targets.ts';

/** A text and what it is written in. */
export type ScriptText = Omit<Script, 'id'>;

/** The chain with a script, which is taken once however often it is used, and the script’s id. InputError for what is none. */
export function withScript(
  catalogue: Catalogue,
  chain: ChainDocument,
  { language, text }: ScriptText,
): { readonly chain: ChainDocument; readonly script: string } {
  const same = chain.scripts.find((script) => script.language === language && script.text === text);
  if (same) return { chain, script: same.id };
  // What it is called is known once it is read.
  const trial = { ...chain, scripts: [...chain.scripts, { id: TRIAL, language, text }] };
  const { title } = catalogue.for(trial).of({ kind: SCRIPT_KIND, script: TRIAL });
  const id = freeId(`${idOfTitle(title)}Text`, takenIds(chain));
  return { chain: { ...chain, scripts: [...chain.scripts, { id, language, text }] }, script: id };
}

const TRIAL = 'trial';

/** The chain with a script and a new stage of it, which is not put anywhere yet. */
export function withScriptStage(
  catalogue: Catalogue,
  chain: ChainDocument,
  text: ScriptText,
): { readonly chain: ChainDocument; readonly stage: StageDocument } {
  const taken = withScript(catalogue, chain, text);
  return {
    chain: taken.chain,
    stage: newStage(catalogue, taken.chain, { kind: SCRIPT_KIND, script: taken.script }),
  };
}

/**
 * The chain with another text for a script. Stages of it keep the settings that are still there and allowed; what moved
 * others goes.
 */
export function changeScript(catalogue: Catalogue, chain: ChainDocument, id: string, text: string): ChainDocument {
  const scripts = chain.scripts.map((script) => (script.id === id ? { ...script, text } : script));
  const changed = { ...chain, scripts };
  const known = catalogue.for(changed);
  const fitted = mapStages(changed, (stages) =>
    stages.map((stage) => {
      if (stage.script !== id) return stage;
      const settings = Object.entries(known.of(stage).params).map(([key, param]) => {
        const value = Object.hasOwn(stage.settings, key) ? stage.settings[key] : param.default;
        const keeps = typeof value === typeof param.default && !rangeFault(param, value, chain.timing, REFERENCE_RATE);
        return [key, keeps ? value : param.default];
      });
      return { ...stage, settings: Object.fromEntries(settings) as StageDocument['settings'] };
    }),
  );
  return withoutDangling(catalogue, withinScales(catalogue, fitted));
}

/** Lanes held within the scales of what they move, and controls without what they cannot drive any more. */
function withinScales(catalogue: Catalogue, chain: ChainDocument): ChainDocument {
  const paramOf = (target: string) => findTarget(catalogue, chain, target)?.param;
  const lanes = chain.lanes.map((lane) => {
    const param = paramOf(lane.target);
    if (!param || !isScaled(param)) return lane;
    const points = lane.curve.points.map((point) => ({
      ...point,
      value: Math.max(param.min, Math.min(param.max, point.value)),
    }));
    return { ...lane, curve: { ...lane.curve, points } };
  });
  const drivable = ({ target, from, to }: Driven) => {
    const param = paramOf(target);
    return (
      param !== undefined &&
      [from, to].every(
        (end) => typeof end === typeof param.default && !rangeFault(param, end, chain.timing, REFERENCE_RATE),
      )
    );
  };
  const panel = chain.panel.map((control) => ({ ...control, drives: control.drives.filter(drivable) }));
  return { ...chain, lanes, panel };
}

/** What goes when a script gets another text: settings, and what hangs on them: `Lamp, amount: a lane, the control “Near”`. */
export function lostByScript(catalogue: Catalogue, chain: ChainDocument, id: string, text: string): string[] {
  const after = changeScript(catalogue, chain, id, text);
  const there = new Set(targetsOf(catalogue, after).map(({ target }) => target));
  const own = new Set(allStages(chain.stages).flatMap(({ stage }) => (stage.script === id ? [stage.id] : [])));
  return targetsOf(catalogue, chain)
    .filter((target) => own.has(target.id))
    .flatMap(({ target, owner, label }) => {
      const left = hangingOn(after, target);
      const lost = hangingOn(chain, target).filter((one) => !left.includes(one));
      if (lost.length === 0 && there.has(target)) return [];
      return [`${owner}, ${label}${lost.length > 0 ? `: ${lost.join(', ')}` : ''}`];
    });
}

function hangingOn(chain: ChainDocument, target: string): string[] {
  return [
    ...(chain.lanes.some((lane) => lane.target === target) ? ['a lane'] : []),
    ...(chain.routes.some((route) => route.to === target) ? ['a modulation'] : []),
    ...chain.panel
      .filter(({ drives }) => drives.some((driven) => driven.target === target))
      .map(({ name }) => `the control “${name}”`),
  ];
}

/** The chain without scripts that only stages of an earlier state used. */
export function withoutUnusedScripts(before: ChainDocument, after: ChainDocument): ChainDocument {
  const used = ({ stages }: ChainDocument) => new Set(allStages(stages).map(({ stage }) => stage.script));
  const [earlier, now] = [used(before), used(after)];
  const scripts = after.scripts.filter(({ id }) => now.has(id) || !earlier.has(id));
  return scripts.length === after.scripts.length ? after : { ...after, scripts };
}

/** The titles of the scripts that a chain brings. */
export function scriptTitles(catalogue: Catalogue, chain: ChainDocument): string[] {
  const known = catalogue.for(chain);
  return chain.scripts.map(({ id }) => stageTitle(known, { kind: SCRIPT_KIND, script: id, name: '' } as StageDocument));
}
