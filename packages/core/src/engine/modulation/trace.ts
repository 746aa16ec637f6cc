/** How modulators and what they move run over a sound, for pictures of it. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { isScaled, type Params } from '../../params/params.ts';
import { toPlace } from '../../params/types/paramScale.ts';
import { BRANCH_PARAMS } from '../../stages/branchParams.ts';
import { clipEnd, type Clip, type Span } from '../../model/clip.ts';
import { movementFrom } from './busFrom.ts';
import { modulatorDefinition, type PlannedModulator, type PlannedMove } from '../plan/plannedModulation.ts';
import { ModulatedSettings } from './modulatedSettings.ts';
import type { Planned } from '../plan/planned.ts';
import { STAGE_PARAMS } from '../../stages/stageParams.ts';

/** Values a block apart. */
export interface MovementTrace {
  /** Frame of the first value, from the source's first. */
  readonly origin: number;
  /** Frames between two values. */
  readonly step: number;
  readonly sampleRate: number;
  /** By id: −1…1, or 0…1 for those that only go up. */
  readonly modulators: Readonly<Record<string, Float32Array>>;
  /** By target: places on the scale, 0…1; switches 0 or 1. */
  readonly targets: Readonly<Record<string, Float32Array>>;
}

/** The most values that a trace keeps; over longer sounds they lie further apart. */
const MOST = 6000;

/** Runs modulators, and what they move in stages, over a clip without the stages. `heard` is what followers listen to. */
export function* traceMovement(
  catalogue: Catalogue,
  stages: readonly Planned[],
  modulators: readonly PlannedModulator[],
  heard: Clip,
  span: Span,
  end = clipEnd(heard),
): Generator<void, MovementTrace, void> {
  const { sampleRate, origin } = heard;
  const movement = movementFrom(modulators, origin, sampleRate, span);
  const blocks = Math.max(1, Math.ceil((end - origin) / BLOCK_FRAMES));
  const every = Math.max(1, Math.ceil(blocks / MOST));
  const count = Math.ceil(blocks / every);
  const traced = modulators.flatMap(({ key }) => {
    const mover = movement.find(key);
    return mover ? [{ key, mover, values: new Float32Array(count) }] : [];
  });
  const targets = stages
    .flatMap((stage) => movedIn(catalogue, stage))
    .concat(
      modulators.flatMap(({ key, kind, values, moves }) =>
        moves.map((move) => ({ id: key, params: modulatorDefinition(kind).params, value: values[move.key], move })),
      ),
    );
  const moving = targets.flatMap(({ id, params, value, move }) => {
    const param = params[move.key];
    const settings = new ModulatedSettings({ [move.key]: param }, { [move.key]: value }, sampleRate);
    settings.setMoves([move], movement);
    const target = `${id}.${move.key}`;
    return [{ target, key: move.key, param, settings, values: new Float32Array(count) }];
  });
  const block = heard.channels.map(() => new Float32Array(BLOCK_FRAMES));
  for (let b = 0; b < blocks; b++) {
    const position = origin + b * BLOCK_FRAMES;
    for (let c = 0; c < block.length; c++) {
      block[c].fill(0);
      block[c].set(heard.channels[c].subarray(b * BLOCK_FRAMES, (b + 1) * BLOCK_FRAMES));
    }
    movement.advance(block, position);
    const at = b / every;
    const kept = b % every === 0;
    if (kept) for (const { mover, values } of traced) values[at] = movement.value(mover, 0, position);
    for (const { key, param, settings, values } of moving) {
      settings.advance(position, BLOCK_FRAMES);
      settings.over(0, BLOCK_FRAMES);
      if (!kept) continue;
      const now = settings.values[key];
      values[at] = isScaled(param) ? toPlace(param, (now as unknown as { start: number }).start) : Number(now);
    }
    if (b % 256 === 255) yield;
  }
  return {
    origin,
    step: every * BLOCK_FRAMES,
    sampleRate,
    modulators: Object.fromEntries(traced.map(({ key, values }) => [key, values])),
    targets: Object.fromEntries(moving.map(({ target, values }) => [target, values])),
  };
}

interface Moved {
  readonly id: string;
  readonly params: Params;
  readonly value: unknown;
  readonly move: PlannedMove;
}

/** What is moved in a stage, its branches and the stages in them. */
function movedIn(catalogue: Catalogue, stage: Planned): Moved[] {
  const params: Params = { ...catalogue.of(stage).params, ...STAGE_PARAMS };
  const values: Readonly<Record<string, unknown>> = { ...stage.values, mix: stage.mix, level: stage.level };
  return [
    ...stage.moves.map((move) => ({ id: stage.id, params, value: values[move.key], move })),
    ...stage.branches.flatMap((branch) => [
      ...branch.moves.map((move) => ({
        id: branch.id,
        params: BRANCH_PARAMS,
        value: branch[move.key as 'level'],
        move,
      })),
      ...branch.stages.flatMap((inside) => movedIn(catalogue, inside)),
    ]),
  ];
}
