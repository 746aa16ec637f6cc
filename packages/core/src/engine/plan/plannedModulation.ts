/** What moves a chain's settings, as the engine runs it: plain data that can be sent between threads. */
import type { ChainDocument } from '../../chain/schema.ts';
import { splitTarget } from '../../chain/targets.ts';
import { modulatorOrder } from '../../chain/modulatorOrder.ts';
import { controlPlace } from '../../chain/panel.ts';
import { deriveSeed } from '../../dsp/random.ts';
import { inSeconds, type Breakpoints } from '../../modulation/curve.ts';
import { breakpointsOf } from '../../modulation/stampedShape.ts';
import { defineModulator, type Modulator, type Polarity } from '../../modulation/modulators/contract.ts';
import { modulatorOf } from '../../modulation/modulators/index.ts';
import { ratio, type Params, type Settings } from '../../params/params.ts';
import type { TempoMap } from '../../timing/tempoMap.ts';
import type { PlannedLane } from './plannedLane.ts';
import { curveAlong, tempoLanes } from './tempoLanes.ts';
import type { ResolvedValues } from '../../stages/contract.ts';
import { beatSeconds, resolveTime } from '../../timing/tempo.ts';
import type { Clip } from '../../model/clip.ts';
import type { SettingResolver } from './resolve.ts';

export interface PlannedModulator {
  /** Its id in the chain. */
  readonly key: string;
  readonly kind: string;
  readonly values: ResolvedValues<Params>;
  readonly seed: number;
  readonly sounds: Readonly<Record<string, Clip | undefined>>;
  readonly moves: readonly PlannedMove[];
}

/** All that moves one setting. */
export interface PlannedMove {
  /** Key of the parameter, or `mix`, `level`, `pan`. */
  readonly key: string;
  readonly lane?: PlannedLane;
  readonly routes: readonly PlannedRoute[];
}

export interface PlannedRoute {
  /** Id of a modulator or of a control of the panel. */
  readonly from: string;
  /** Shares of the target's scale, −1…1. */
  readonly depth: number;
  readonly polarity: Polarity;
  readonly bend: number;
  /** Seconds. */
  readonly smoothing: number;
}

/** A control of the panel in a modulator's place: it stands where the designer has put it. */
const control = defineModulator({
  kind: 'control',
  title: 'Control',
  summary: 'A control of the panel.',
  keywords: [],
  polarity: 'up',
  params: { value: ratio({ default: 0, doc: 'Where it stands.' }) },
  create: () => {
    const output = new Float64Array(2);
    return {
      output,
      start(_position, { value }) {
        output[0] = value.start;
        output[1] = value.start;
      },
      advance(_input, _at, _frames, _position, { value }) {
        output[0] = value.end;
        output[1] = value.end;
      },
    };
  },
});

/** The definition of a planned modulator. */
export function modulatorDefinition(kind: string): Modulator {
  return kind === control.kind ? control : modulatorOf(kind);
}

const isCommon = ({ key }: PlannedMove) => key === 'mix' || key === 'level';

/** All movement of a chain, to be asked for stage by stage. */
export class MovementPlan {
  private readonly tempoMap: TempoMap | undefined;
  private readonly moves = new Map<string, PlannedMove[]>();
  /** The panel's controls and the modulators, each behind those that move it. */
  readonly modulators: readonly PlannedModulator[];

  /** `tempoMap`: how the tempo changes while it runs; else it stands. */
  constructor(chain: ChainDocument, sampleRate: number, resolve: SettingResolver, tempoMap?: TempoMap) {
    this.tempoMap = tempoMap;
    const { timing } = chain;
    const sources = new Set([
      ...chain.modulators.filter(({ on }) => on).map(({ id }) => id),
      ...chain.panel.map(({ id }) => id),
    ]);
    const routes = chain.routes.filter(({ on, from }) => on && sources.has(from));
    const lanes = chain.lanes.filter(({ on }) => on);
    const targets = new Set([...routes.map(({ to }) => to), ...lanes.map(({ target }) => target)]);
    for (const target of targets) {
      const { id, key } = splitTarget(target);
      const drawn = lanes.find((lane) => lane.target === target);
      const along = (curve: Breakpoints) =>
        tempoMap ? curveAlong(curve, tempoMap, timing) : inSeconds(curve, beatSeconds(timing));
      const { over, points } = drawn ? along(breakpointsOf(drawn.curve)) : { over: '', points: [] };
      const move: PlannedMove = {
        key,
        ...(drawn ? { lane: { over: over as PlannedLane['over'], points } } : {}),
        routes: routes
          .filter(({ to }) => to === target)
          .map(({ from, depth, polarity, bend, smoothing }) => ({
            from,
            depth,
            polarity,
            bend,
            smoothing: resolveTime(smoothing, timing, sampleRate),
          })),
      };
      this.moves.set(id, [...(this.moves.get(id) ?? []), move]);
    }
    // What every stage has comes before its own, as in the list of its numbers.
    for (const moves of this.moves.values()) moves.sort((a, b) => Number(isCommon(b)) - Number(isCommon(a)));
    const planned = (id: string): PlannedModulator[] => {
      const document = chain.modulators.find((modulator) => modulator.id === id);
      if (!document || !sources.has(id)) return [];
      const { params } = modulatorOf(document.kind);
      const { values, sounds } = resolve(params, document.settings);
      const seed = deriveSeed(chain.render.seed, id);
      const moves = this.withTempo(this.movesOf(id), params, document.settings);
      return [{ key: id, kind: document.kind, values, seed, sounds, moves }];
    };
    const controls = chain.panel.map((one): PlannedModulator => ({
      key: one.id,
      kind: control.kind,
      values: { value: controlPlace(one) },
      seed: 0,
      sounds: {},
      moves: [],
    }));
    this.modulators = [...controls, ...(modulatorOrder(chain) ?? []).flatMap(planned)];
  }

  movesOf(id: string): readonly PlannedMove[] {
    return this.moves.get(id) ?? [];
  }

  /** Moves, and those of settings that follow a tempo that changes. What is drawn stays as it is drawn. */
  withTempo(moves: readonly PlannedMove[], params: Params, settings: Settings, grid?: string): readonly PlannedMove[] {
    if (!this.tempoMap) return moves;
    const lanes = tempoLanes(params, settings, this.tempoMap, grid);
    if (lanes.size === 0) return moves;
    const known = moves.map((move) => {
      const lane = move.lane ?? lanes.get(move.key);
      return lane ? { ...move, lane } : move;
    });
    const others = [...lanes].filter(([key]) => !moves.some((move) => move.key === key));
    return [...known, ...others.map(([key, lane]): PlannedMove => ({ key, lane, routes: [] }))];
  }

  /** The modulators behind some moves, with those that move them, and some that are known already; in order. */
  modulatorsFor(moves: readonly PlannedMove[], known: readonly PlannedModulator[] = []): readonly PlannedModulator[] {
    const found = new Set(known.map(({ key }) => key));
    const visit = (some: readonly PlannedMove[]) => {
      for (const { routes } of some)
        for (const { from } of routes) {
          if (found.has(from)) continue;
          found.add(from);
          visit(this.movesOf(from));
        }
    };
    visit(moves);
    return this.modulators.filter(({ key }) => found.has(key));
  }

  /** True when something among the moves goes differently left and right. */
  parts(moves: readonly PlannedMove[]): boolean {
    return this.modulatorsFor(moves).some(({ kind, values, moves: own }) => {
      const definition = modulatorDefinition(kind);
      return definition.parts?.(values) === true || own.some(({ key }) => key === definition.partsMovedBy);
    });
  }
}

/** The modulators of stages in a row, each once and behind those that move it. */
export function modulatorsOf(
  stages: readonly { readonly modulators: readonly PlannedModulator[] }[],
): PlannedModulator[] {
  const all = new Map<string, PlannedModulator>();
  for (const { modulators } of stages) for (const modulator of modulators) all.set(modulator.key, modulator);
  // Stages list their own in order, but one stage may know of a mover that another does not.
  const order: PlannedModulator[] = [];
  const place = (modulator: PlannedModulator): void => {
    if (order.includes(modulator)) return;
    for (const { routes } of modulator.moves)
      for (const { from } of routes) {
        const mover = all.get(from);
        if (mover) place(mover);
      }
    order.push(modulator);
  };
  for (const modulator of all.values()) place(modulator);
  return order;
}

/**
 * Modulators whose rate is moved, with those that move it, in the order given. Left out is what goes by the sound that is
 * played: that is not known before it comes.
 */
export function countedFor(modulators: readonly PlannedModulator[]): readonly PlannedModulator[] {
  const byKey = new Map(modulators.map((modulator) => [modulator.key, modulator]));
  const behind = (modulator: PlannedModulator): PlannedModulator[] =>
    modulator.moves
      .flatMap(({ routes }) => routes.flatMap(({ from }) => byKey.get(from) ?? []))
      .flatMap((mover) => [mover, ...behind(mover)]);
  const turned = modulators.filter(({ kind, moves }) => {
    const turning = modulatorDefinition(kind).turnsBy;
    return moves.some(({ key }) => key === turning);
  });
  const heard = ({ kind, values }: PlannedModulator) => modulatorDefinition(kind).hears?.(values) === true;
  const needed = new Set(
    turned.flatMap((modulator) => {
      const all = [modulator, ...behind(modulator)];
      return all.some(heard) ? [] : all;
    }),
  );
  return modulators.filter((modulator) => needed.has(modulator));
}

/** What cannot change in a move while it runs: depths can. */
export function moveShape({ key, lane, routes }: PlannedMove): unknown {
  return [key, lane, routes.map(({ from, polarity, bend, smoothing }) => [from, polarity, bend, smoothing])];
}

/** What cannot change while a modulator runs: its words, and what moves it. */
export function modulatorShape({ key, kind, seed, values, moves }: PlannedModulator): string {
  const { params } = modulatorDefinition(kind);
  const words = Object.entries(values).filter(([name, value]) => {
    const param = params[name];
    return (typeof value !== 'number' && typeof value !== 'boolean') || ('fixed' in param && param.fixed === true);
  });
  return JSON.stringify([key, kind, seed, words, moves.map(moveShape)]);
}
