/** Chains near a chain: drawn at random within the designer's ranges, or on the way to another. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { createRandom, deriveSeed } from '../dsp/random.ts';
import { toPlace } from '../params/types/paramScale.ts';
import { blendSettings, isScaled, resolveSetting } from '../params/params.ts';
import { settingAt } from '../params/settingPlace.ts';
import { allStages } from './branches.ts';
import { applyPanel, controlAt, controlPlace, driverOf } from './panel.ts';
import type { ChainDocument } from './schema.ts';
import { findTarget, targetsOf, withSetting, type Target } from './targets.ts';

export interface Variation {
  /** How far from what is set, 0…1: at 1 anywhere in the ranges. */
  readonly amount: number;
  readonly seed: number;
  /** The controls of the panel, or every setting of the stages that is on its own. */
  readonly over: 'panel' | 'settings';
}

/** A chain with its settings drawn anew; the same for the same seed. What is locked stays. */
export function varied(catalogue: Catalogue, chain: ChainDocument, { amount, seed, over }: Variation): ChainDocument {
  // Each draws by itself, so that a lock changes nothing but what it locks.
  const draw = (name: string) => createRandom(deriveSeed(seed, name));
  const between = (place: number, random: () => number) => place + amount * (random() - place);
  if (over === 'panel') {
    const panel = chain.panel.map((control) =>
      control.locked
        ? control
        : { ...control, value: controlAt(control, between(controlPlace(control), draw(control.id))) },
    );
    return applyPanel(catalogue, { ...chain, panel });
  }
  return freeSettings(catalogue, chain).reduce((changed, target) => {
    const random = draw(target.target);
    const { param, value } = target;
    if (isScaled(param)) {
      const now = toPlace(param, resolveSetting(param, value, chain.timing, REFERENCE_RATE) as number);
      return withSetting(
        catalogue,
        changed,
        target.target,
        settingAt(param, between(now, random), value, chain.timing),
      );
    }
    // A word or switch has no near; it changes as often as the amount says.
    if (random() >= amount) return changed;
    const options = param.type === 'choice' ? param.options : [false, true];
    return withSetting(catalogue, changed, target.target, options[Math.floor(random() * options.length)]);
  }, chain);
}

/** The settings that are drawn: of stages that are on, not locked, not driven, and neither their mix nor their level. */
export function freeSettings(catalogue: Catalogue, chain: ChainDocument): Target[] {
  const stages = allStages(chain.stages).map(({ stage }) => stage);
  const on = new Set(stages.flatMap((stage) => (stage.on ? [stage.id] : [])));
  const holders = new Set(stages.flatMap((stage) => (stage.branches ? [stage.id] : [])));
  return targetsOf(catalogue, chain).filter(
    ({ of, id, key, param, target }) =>
      of === 'stage' &&
      on.has(id) &&
      key !== 'mix' &&
      key !== 'level' &&
      key !== 'on' &&
      (isScaled(param) || param.type === 'choice' || param.type === 'toggle') &&
      // Of a word that decides how many branches there are, none is drawn.
      !(param.type === 'choice' && holders.has(id)) &&
      !chain.locked.includes(target) &&
      !driverOf(chain, target),
  );
}

/**
 * A chain between two, 0 the first and 1 the second: what both have moves along its scale, what only one has is that of
 * the nearer. Of the two it has the stages, routes and lanes of the nearer.
 */
export function morphed(
  catalogue: Catalogue,
  first: ChainDocument,
  second: ChainDocument,
  share: number,
): ChainDocument {
  if (share <= 0) return first;
  if (share >= 1) return second;
  const near = share < 0.5 ? first : second;
  const far = near === first ? second : first;
  const away = near === first ? share : 1 - share;
  let between = near;
  for (const target of targetsOf(catalogue, near)) {
    const other = findTarget(catalogue, far, target.target);
    // A stage of the same id and another kind is another stage.
    if (!other || other.param !== target.param) continue;
    const setting = blendSettings(target.param, target.value, other.value, away, near.timing);
    if (setting !== target.value) between = withSetting(catalogue, between, target.target, setting);
  }
  const lerp = (from: number, to: number) => from + (to - from) * away;
  return applyPanel(catalogue, {
    ...between,
    panel: between.panel.map((control) => {
      const other = far.panel.find(({ id }) => id === control.id);
      return other
        ? { ...control, value: controlAt(control, lerp(controlPlace(control), controlPlace(other))) }
        : control;
    }),
    routes: between.routes.map((route) => {
      const other = far.routes.find(({ id, from, to }) => id === route.id && from === route.from && to === route.to);
      return other ? { ...route, depth: lerp(route.depth, other.depth) } : route;
    }),
  });
}
