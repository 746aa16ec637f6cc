/** What is wrong with a chain's panel, modulators, routes and lanes, in words that say what is allowed. */
import { breakpointsOf } from '../modulation/stampedShape.ts';
import { REFERENCE_RATE, type Timing } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { modulatorOrder } from './modulatorOrder.ts';
import { remembered } from '../model/sharing.ts';
import type { Curve } from '../modulation/curve.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { settingSchema } from '../params/paramSchema.ts';
import { describeRange, isScaled, labelOf, rangeFault, type Param } from '../params/params.ts';
import { wholeNotes } from '../params/types/scale.ts';
import type { ChainDocument, Driven, ModulatorDocument } from './schema.ts';
import { findTarget, modulatorTitle, noSuchSetting, type Target } from './targets.ts';

/** Finds a setting by its name, and says what there is where it finds none. */
interface Targets {
  readonly find: (name: string) => Target | undefined;
  readonly none: (name: string) => string;
}

export function movementFaults(catalogue: Catalogue, chain: ChainDocument): string[] {
  const targets: Targets = {
    find: (name) => findTarget(catalogue, chain, name),
    none: (name) => noSuchSetting(catalogue, chain, name),
  };
  return [
    ...chain.modulators.flatMap((modulator) => modulatorFaults(modulator, chain.timing)),
    ...routeFaults(chain, targets),
    ...laneFaults(chain, targets),
    ...panelFaults(chain, targets),
    ...chain.locked.filter((target) => !targets.find(target)).map((target) => `Locked: ${targets.none(target)}.`),
  ];
}

const modulatorFaults = remembered((modulator: ModulatorDocument, timing: Timing): readonly string[] =>
  Object.entries(modulatorOf(modulator.kind).params).flatMap(([key, param]) => {
    const fault = rangeFault(param, modulator.settings[key], timing, REFERENCE_RATE);
    return fault
      ? [`Modulator "${modulator.id}" (${modulatorTitle(modulator)}): ${labelOf(key, param)} ${fault}.`]
      : [];
  }),
);

/** Why a setting cannot be moved, or undefined. */
function immovable(targets: Targets, name: string): string | undefined {
  const target = targets.find(name);
  if (!target) return targets.none(name);
  if (target.movable) return undefined;
  return `${target.owner}, ${target.label} is fixed during playback and cannot be modulated`;
}

function routeFaults(chain: ChainDocument, targets: Targets): string[] {
  const sources = [...chain.modulators, ...chain.panel].map(({ id }) => id);
  const faults = chain.routes.flatMap(({ id, from, to }) => {
    const found: string[] = [];
    if (!sources.includes(from))
      found.push(
        `Route "${id}": there is no modulator or control "${from}"; there are ${sources.join(', ') || 'none'}.`,
      );
    const fault = immovable(targets, to);
    if (fault) found.push(`Route "${id}": ${fault}.`);
    return found;
  });
  if (faults.length > 0 || inOrder(chain.routes, chain.modulators)) return faults;
  const circle = circleOf(chain);
  return [
    `The modulators ${circle.map((id) => `"${id}"`).join(' → ')} modulate each other in a loop; remove one route.`,
  ];
}

const inOrder = remembered(
  (routes: ChainDocument['routes'], modulators: ChainDocument['modulators']) =>
    modulatorOrder({ routes, modulators }) !== undefined,
);

/** Modulators of which each moves the next and the last the first. */
function circleOf(chain: ChainDocument): string[] {
  const ids = chain.modulators.map(({ id }) => id);
  const movedBy = (id: string) =>
    chain.routes
      .filter(({ from, to }) => from === id && ids.includes(to.split('.')[0]))
      .map(({ to }) => to.split('.')[0]);
  const walk = (path: readonly string[]): string[] | undefined => {
    for (const next of movedBy(path[path.length - 1])) {
      const seen = path.indexOf(next);
      const found = seen >= 0 ? [...path.slice(seen), next] : walk([...path, next]);
      if (found) return found;
    }
    return undefined;
  };
  for (const id of ids) {
    const found = walk([id]);
    if (found) return found;
  }
  return [];
}

const pointOutside = remembered((curve: Curve, min: number, max: number) =>
  breakpointsOf(curve).points.find(({ value }) => value < min || value > max),
);

function laneFaults(chain: ChainDocument, targets: Targets): string[] {
  const seen = new Set<string>();
  return chain.lanes.flatMap(({ target: name, curve }) => {
    const faults: string[] = [];
    if (seen.has(name)) faults.push(`Lane: "${name}" has two lanes; one is allowed.`);
    seen.add(name);
    const fault = immovable(targets, name);
    const param = targets.find(name)?.param;
    if (fault) faults.push(`Lane: ${fault}.`);
    else if (param) {
      const [min, max] = isScaled(param) ? [param.min, param.max] : [0, 1];
      const outside = pointOutside(curve, min, max);
      if (outside)
        faults.push(
          `Lane of "${name}": a breakpoint has the value ${outside.value}; allowed is ${isScaled(param) ? describeRange(param) : '0 (off) to 1 (on)'}.`,
        );
    }
    return faults;
  });
}

function panelFaults(chain: ChainDocument, targets: Targets): string[] {
  const drivers = new Map<string, string>();
  return chain.panel.flatMap((control) => {
    const place = `Control "${control.name}"`;
    const faults: string[] = [];
    if (control.min === control.max) faults.push(`${place}: its minimum and maximum are both ${control.min}.`);
    for (const key of ['value', 'default'] as const) {
      const [least, most] = [Math.min(control.min, control.max), Math.max(control.min, control.max)];
      if (control[key] < least || control[key] > most)
        faults.push(`${place}: its ${key} is ${control[key]}; allowed is ${least} to ${most}.`);
    }
    for (const driven of control.drives) {
      const { target: name } = driven;
      const other = drivers.get(name);
      if (other !== undefined) faults.push(`${place}: "${name}" is driven by "${other}" already.`);
      drivers.set(name, control.name);
      const target = targets.find(name);
      if (!target) faults.push(`${place}: ${targets.none(name)}.`);
      else {
        const { param, owner, label } = target;
        const named = `${owner}, ${label}`;
        faults.push(...drivenFaults(driven, param, named, chain.timing).map((fault) => `${place}: ${fault}`));
      }
    }
    return faults;
  });
}

const drivenFaults = remembered((driven: Driven, param: Param, name: string, timing: Timing): readonly string[] => {
  const ends = [driven.from, driven.to];
  if (!isScaled(param) && param.type !== 'choice' && param.type !== 'toggle')
    return [`${name} cannot be driven; a control drives numbers, words and switches.`];
  const schema = settingSchema(param);
  const faults = ends.flatMap((end) => {
    if (!schema.safeParse(end).success)
      return [`${name} cannot be ${JSON.stringify(end) ?? 'nothing'}; allowed is ${describeRange(param)}.`];
    const fault = rangeFault(param, end, timing, REFERENCE_RATE);
    return fault ? [`${name} ${fault}.`] : [];
  });
  const musical = ends.map((end) => wholeNotes(end, timing) !== undefined);
  if (faults.length === 0 && musical[0] !== musical[1])
    faults.push(`${name}: one end is tempo-synced and the other is not; give both in beats or neither.`);
  return faults;
});
