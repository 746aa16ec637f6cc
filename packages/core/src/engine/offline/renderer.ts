/**
 * Renders a chain over a clip. The work is a generator that yields often, so that whoever drives it (a web worker, a
 * server thread, a test) decides when to breathe, report or give up.
 */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import { once } from '../../model/once.ts';
import { createRandom } from '../../dsp/random.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { HELD, type ClipStage, type ClipWork } from '../../stages/contract.ts';
import type { ClipCache } from './cache.ts';
import { clipEnd, cropClip, frameCount, type Clip, type Span, type Timeline } from '../../model/clip.ts';
import { finishClip } from './finish.ts';
import type { GaveUp } from './gaveUp.ts';
import { refusePlayedOnly } from './headSource.ts';
import { mixGains } from '../run/mixLaw.ts';
import { applyLeadIn, cutTail, placeAtAnchor, planTail, refuseTooLong, type TailPlan } from './overhang.ts';
import type { TempoMap } from '../../timing/tempoMap.ts';
import { contentKey, cutIntoRuns, planStages } from '../plan/plan.ts';
import type { Planned } from '../plan/planned.ts';
import type { SoundBank } from '../plan/soundBank.ts';
import { holdingOf, keep, keysOf, takeKept, type Keeping, type Output, type StageOutput } from './outputs.ts';
import { branchInputs, cutBranches, isReader, withReaders } from './parallel.ts';
import { streamRun, type RunStep } from './streamRun.ts';

export interface RenderRequest extends Keeping {
  readonly chain: ChainDocument;
  readonly source: Clip;
  /** Where the source lies in its clip: what reverse flips about. All of the clip, from 0 on, when left out. */
  readonly span?: Span;
  /** The time that what moves goes by; that of the source when left out. */
  readonly timeline?: Timeline | undefined;
  /** What the stages that name a sound find; without it nothing, and they pass their input on. */
  readonly sounds?: SoundBank | undefined;
  /** How the tempo changes from the source’s first frame on; it stands when left out. */
  readonly tempoMap?: TempoMap | undefined;
}

export type RenderStep =
  | RunStep
  /** The sound after stage `index` of the chain document is ready. Only with a cache. */
  | ({ readonly type: 'stage'; readonly index: number; readonly cached: boolean } & StageOutput);

export type RenderProcess = Generator<RenderStep, Clip, void>;

/** Renders; returns the finished clip with its lead-in cut and placed at its anchor. */
export function* renderChain(catalogue: Catalogue, request: RenderRequest): RenderProcess {
  const { chain, source } = request;
  refusePlayedOnly(catalogue, chain);
  const planned = planStages(catalogue, chain, source.sampleRate, request.sounds, request.tempoMap);
  const tailFor = (spanEnd: number) => planTail(chain, source.sampleRate, spanEnd);
  const span = request.span ?? { start: 0, end: frameCount(source) };
  const work = new Work(catalogue, planned, { source, span, timeline: request.timeline }, tailFor, request);
  const clip = yield* work.run();
  return finishClip(placeAtAnchor(applyLeadIn(clip, chain), chain.render.anchor, source), chain.render);
}

/** What stages run over. */
interface Ground {
  readonly source: Clip;
  readonly span: Span;
  readonly timeline?: Timeline | undefined;
  /** What followers of its first run listen to; the source when left out. */
  readonly heard?: Clip | undefined;
}

/** Runs planned stages over a source, one run after another. */
class Work {
  private readonly planned: readonly Planned[];
  private readonly source: Clip;
  private readonly span: Span;
  private readonly timeline: Timeline | undefined;
  private readonly tailFor: (spanEnd: number) => TailPlan;
  private readonly cache: ClipCache | undefined;
  private readonly keeping: Keeping;
  /** Names what comes out of each stage. */
  private readonly keys: readonly string[];
  /** The same of what goes in. */
  private readonly beginning: string;
  private readonly heard: Clip | undefined;
  /** The same for whole-clip stages before their mix and level. */
  private readonly wetKeys: readonly string[];
  private finished = 0;
  private readonly catalogue: Catalogue;

  constructor(
    catalogue: Catalogue,
    planned: readonly Planned[],
    { source, span, timeline, heard }: Ground,
    tailFor: (spanEnd: number) => TailPlan,
    keeping: Keeping = {},
  ) {
    const { cache, sourceKey = '' } = keeping;
    this.keeping = keeping;
    this.catalogue = catalogue;
    this.planned = planned;
    this.source = source;
    this.heard = heard;
    this.span = span;
    this.timeline = timeline;
    this.tailFor = tailFor;
    this.cache = cache;
    this.beginning = beginningOf(sourceKey, span, timeline, tailFor(span.end));
    this.keys = stageKeys(planned, this.beginning);
    this.wetKeys = planned.map((step, n) =>
      stageKey(this.keys[n - 1] ?? this.beginning, { ...step, mix: 1, level: 0 }),
    );
  }

  /** The share done when `part`, 0…1, of `stages` stages from the next one on is done. */
  private done(part: number, stages = 1): number {
    return (this.finished + part * stages) / Math.max(1, this.planned.length);
  }

  *run(): Generator<RenderStep, Clip, void> {
    let clip = this.source;
    let { span } = this;
    for (const run of cutIntoRuns(this.planned)) {
      if (run.runs === 'offline' && this.catalogue.of(run.stage).runs === 'live') {
        clip = yield* this.parallel(run.stage, clip, span);
      } else if (run.runs === 'offline') {
        clip = yield* this.transform(run.stage, clip, span);
        span = clip.span ?? span;
      } else {
        clip = yield* this.stream(run.stages, clip, this.tailFor(span.end), span);
      }
      yield { type: 'progress', done: this.done(0) };
    }
    return clip;
  }

  private *transform(step: Planned, input: Clip, span: Span): Generator<RenderStep, Clip, void> {
    const key = this.keys[this.finished];
    const kept = this.cache?.get(key);
    let clip = kept;
    if (!clip) {
      const wetKey = this.wetKeys[this.finished];
      let wet = this.cache?.get(wetKey);
      if (!wet) {
        // Once for each stage, however often its branch is rendered.
        const gaveUp = new Map<string, GaveUp>();
        const work = transformClip(this.catalogue, step, input, span, this.tailFor, (stage) =>
          gaveUp.set(stage.id, stage),
        );
        let next = work.next();
        for (; !next.done; next = work.next()) yield { type: 'progress', done: this.done(next.value) };
        wet = next.value;
        for (const stage of gaveUp.values()) yield { type: 'gave up', stage };
        // Turning its mix or its level does not run it again.
        if (wetKey !== key) this.cache?.set(wetKey, wet);
      }
      const mixed = mixClip(this.catalogue, step, input, wet);
      // What an earlier stage has said of where the source lies goes on being said.
      clip = mixed.span || span === this.span ? mixed : { ...mixed, span };
    }
    this.finished += 1;
    if (this.cache) {
      if (!kept) this.cache.set(key, clip);
      const { index, id } = step;
      yield { type: 'stage', index, id, key, clip, cut: false, inside: [], cached: kept !== undefined };
    }
    return clip;
  }

  /** A live stage with whole-clip stages in its branches; see `parallel.ts`. */
  private *parallel(step: Planned, input: Clip, span: Span): Generator<RenderStep, Clip, void> {
    const { catalogue, cache, timeline } = this;
    const key = this.keys[this.finished];
    const tail = this.tailFor(span.end);
    const inputEnd = clipEnd(input);
    const inputs = once(() => branchInputs(catalogue, step, input, { span, timeline }));
    // The branches' level and place, and how much of it is mixed in, change nothing of what is rendered before.
    const ahead = stageKey(this.keys[this.finished - 1] ?? this.beginning, { ...step, mix: 1, level: 0, branches: [] });
    const branches = cutBranches(step).map(({ before, after }, b) => {
      const sourceKey = `${ahead}|${String(b)}`;
      const ground = () => ({ source: inputs()[b], span, timeline, heard: input });
      const keys = before.length === 0 ? [] : stageKeys(before, beginningOf(sourceKey, span, timeline, tail));
      return {
        before,
        after,
        keys,
        work: () => new Work(catalogue, before, ground(), this.tailFor, { ...this.keeping, sourceKey }),
      };
    });
    const outputs = [
      { id: step.id, key },
      ...branches.flatMap(({ before, after, keys }) => [
        ...before.flatMap((stage, n) => keysOf(keys[n], stage)),
        ...after.flatMap((stage) => keysOf(key, stage).map(({ id }) => ({ id, key: `${key}>${id}` }))),
      ]),
    ];
    const known = (name: string) => cache?.has(name) === true || this.keeping.known?.(name) === true;
    if (cache?.has(key) && outputs.every((output) => known(output.key))) {
      const [own, ...inside] = outputs.map((output): Output => ({
        ...output,
        clip: cache.get(output.key),
        cut: false,
      }));
      this.finished += 1;
      yield { type: 'stage', index: step.index, ...cutOutput(tail, { ...own, inside }, [], inputEnd), cached: true };
      return cutRun(tail, own.clip!, [], inputEnd);
    }
    const told: Output[] = [];
    const rendered: (Clip | undefined)[] = [];
    for (const [b, { before, work }] of branches.entries()) {
      if (before.length === 0) continue;
      const process = work().run();
      let next = process.next();
      for (; !next.done; next = process.next()) {
        const { value } = next;
        if (value.type === 'stage')
          told.push({ id: value.id, key: value.key, clip: value.clip, cut: value.cut }, ...value.inside);
        else if (value.type === 'progress')
          yield { type: 'progress', done: this.done((b + value.done) / (branches.length + 1)) };
        else yield value;
      }
      rendered[b] = next.value;
    }
    const whole = withReaders(catalogue, step, input, { rendered: branches.map((_, b) => rendered[b]), timeline });
    const ground = { input: whole.input, heard: whole.input, span, timeline };
    const held = holdingOf([whole.step], [key], this.keeping);
    const share = branches.length / (branches.length + 1);
    const [output] = yield* streamRun(whole.catalogue, [whole.step], ground, tail, held, (part) =>
      this.done(share + part / (branches.length + 1)),
    );
    const clip = output.clip!;
    this.finished += 1;
    if (cache) {
      const inside = output.inside.filter(({ id }) => !isReader(id));
      keep(cache, { ...output, inside });
      const all = { ...output, inside: [...told, ...inside] };
      yield { type: 'stage', index: step.index, ...cutOutput(tail, all, [], inputEnd), cached: false };
    }
    return cutRun(tail, clip, [], inputEnd);
  }

  private *stream(
    stages: readonly Planned[],
    input: Clip,
    tail: TailPlan,
    span: Span,
  ): Generator<RenderStep, Clip, void> {
    const { cache, keys } = this;
    const first = this.finished === 0;
    const inputEnd = clipEnd(input);
    let clip = input;
    const spared = cache ? this.spared(stages, cache) : 0;
    for (const [n, planned] of stages.slice(0, spared).entries()) {
      const kept = takeKept(cache!, keys[this.finished], planned);
      clip = kept.clip ?? clip;
      this.finished += 1;
      yield { type: 'stage', index: planned.index, ...cutOutput(tail, kept, stages.slice(n), inputEnd), cached: true };
    }
    const rest = stages.slice(spared);
    if (rest.length > 0) {
      const heard = (first && this.heard) || input;
      const ground = { input: clip, heard, span, timeline: this.timeline };
      const held = holdingOf(rest, keys.slice(this.finished), this.keeping);
      const outputs = yield* streamRun(this.catalogue, rest, ground, tail, held, (part) =>
        this.done(part, rest.length),
      );
      clip = outputs[outputs.length - 1].clip!;
      if (!cache) this.finished += rest.length;
      else
        for (const [n, output] of outputs.entries()) {
          if (output.clip) keep(cache, output);
          const ends = n === rest.length - 1 ? rest.slice(-1) : rest;
          this.finished += 1;
          yield { type: 'stage', index: rest[n].index, ...cutOutput(tail, output, ends, inputEnd), cached: false };
        }
    }
    return cutRun(tail, clip, [], inputEnd);
  }

  /** How many of these stages need not run again: the last of them is kept, and all before it are kept or known. */
  private spared(stages: readonly Planned[], cache: ClipCache): number {
    let spared = 0;
    for (const [n, planned] of stages.entries()) {
      const outputs = keysOf(this.keys[this.finished + n], planned);
      if (outputs.every(({ key }) => cache.has(key))) spared = n + 1;
      else if (!outputs.every(({ key }) => this.keeping.known?.(key) === true)) break;
    }
    return spared;
  }
}

const beginningOf = (sourceKey: string, span: Span, timeline: Timeline | undefined, tail: TailPlan) =>
  `${sourceKey}|${JSON.stringify([span, timeline, tail])}`;

/** For every planned stage, a text that says all that its output depends on. */
function stageKeys(planned: readonly Planned[], beginning: string): string[] {
  let key = beginning;
  return planned.map((step) => (key = stageKey(key, step)));
}

const stageKey = (before: string, step: Planned) => `${before}|${contentKey(step)}`;

/**
 * An automatic tail is cut where a run ends, not inside it: a stage may fall silent and be woken by a later one.
 * `rest` are the run's stages from this clip's on.
 */
function cutRun(tail: TailPlan, clip: Clip, rest: readonly Planned[], inputEnd: number): Clip {
  return tail.mode === 'auto' && rest.length <= 1 ? cutTail(clip, tail.cutBelow, inputEnd) : clip;
}

function cutOutput(tail: TailPlan, output: StageOutput, rest: readonly Planned[], inputEnd: number): StageOutput {
  const clip = output.clip && cutRun(tail, output.clip, rest, inputEnd);
  return clip === output.clip ? output : { ...output, clip, cut: true };
}

/**
 * A whole-clip stage before its mix and level. `tailFor` says how what stands in its branches ends, `onGaveUp` hears what in
 * them has given up, and that its own output was held.
 */
function* transformClip(
  catalogue: Catalogue,
  step: Planned,
  input: Clip,
  span: Span,
  tailFor: (spanEnd: number) => TailPlan,
  onGaveUp: (stage: GaveUp) => void,
): ClipWork {
  const stage = catalogue.of(step) as ClipStage;
  const frames = stage.estimate?.(frameCount(input), step.values, input.sampleRate).frames ?? frameCount(input);
  refuseTooLong(Math.max(frames, frameCount(input)), input.channels.length, stage.title);
  const transformed = stage.transform(input, step.values, {
    span,
    random: createRandom(step.seed),
    settings: step.branches,
    branches: step.branches.map(
      ({ stages }) =>
        (clip: Clip) =>
          renderPart(catalogue, stages, clip, tailFor, onGaveUp),
    ),
    onHeld: () => onGaveUp({ id: step.id, title: stage.title, why: HELD }),
  });
  return 'next' in transformed ? yield* transformed : transformed;
}

/** What a whole-clip stage has made, mixed with its input and at its level. */
function mixClip(catalogue: Catalogue, step: Planned, input: Clip, wet: Clip): Clip {
  const stage = catalogue.of(step);
  const gains = mixGains(stage.mixLaw, step.mix);
  const gain = decibelsToGain(step.level);
  if (gains.dry === 0 && gain === 1) return wet;
  const start = Math.min(input.origin, wet.origin);
  const end = Math.max(clipEnd(input), clipEnd(wet));
  const dryPart = cropClip(input, start, end);
  const wetPart = cropClip(wet, start, end);
  const channels = wetPart.channels.map((samples, c) => {
    const dry = dryPart.channels[Math.min(c, dryPart.channels.length - 1)];
    return samples.map((sample, i) => gain * (gains.wet * sample + gains.dry * dry[i]));
  });
  return { ...wet, origin: start, channels };
}

/** Renders a part of a clip through stages of its own. */
function* renderPart(
  catalogue: Catalogue,
  stages: readonly Planned[],
  clip: Clip,
  tailFor: (spanEnd: number) => TailPlan,
  onGaveUp: (stage: GaveUp) => void,
): ClipWork {
  const work = new Work(catalogue, stages, { source: clip, span: { start: 0, end: frameCount(clip) } }, tailFor).run();
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    if (value.type === 'progress') yield value.done;
    else if (value.type === 'gave up') onGaveUp(value.stage);
  }
}

/** Drives a render to its end. `onStep` may throw to give up. */
export function finishRender(process: RenderProcess, onStep?: (step: RenderStep) => void): Clip {
  for (;;) {
    const { done, value } = process.next();
    if (done) return value;
    onStep?.(value);
  }
}
