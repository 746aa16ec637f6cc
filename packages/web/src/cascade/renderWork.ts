/** Done in a thread: renders for the Cascade. It holds the sounds and every stage's output in a bounded cache. */
import { InputError, clipEnd, cropClip, frameCount, type Clip, type Span, type Timing } from '@hexenkessel/core/model';
import { BUILT_INS, headOfClip, clipPictureOf, type ClipPicture, type Script } from '@hexenkessel/core/stages';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import {
  ClipCache,
  anchorShift,
  applyLeadIn,
  bankOf,
  cutIntoRuns,
  gainOfFinish,
  lastClipStage,
  liveEnd,
  planModulators,
  planStages,
  renderChain,
  tailOf,
  traceMovement,
  type MovementTrace,
  type Output,
  type SoundBank,
} from '@hexenkessel/core/engine';
import { captureLoop } from '@hexenkessel/core/live';
import {
  estimateTempo,
  integratedLoudness,
  measureInSteps,
  noteStarts,
  overviewOf,
  type Overview,
  type TempoEstimate,
} from '@hexenkessel/core/analysis';
import { BREATH, breathe, drive, driveWhile } from './breathing.ts';
import { joinedTraces } from './joinedTraces.ts';
import type { HeardStretch, NamedSound, Prepared, RenderReport, RowKey, SoundKey } from './renderReport.ts';
import { RenderedRows } from './renderedRows.ts';
import { inputRow } from './rowsBefore.ts';
import type { ArrivingSound } from './arrivingSound.ts';
import { loadSource, loadUsed, openSource, shared } from './workerSounds.ts';

const CACHE_BYTES = 256 * 1024 * 1024;
/** Milliseconds between two reports of how much is done. */
const TELLING = 250;
/** A render this far on is finished even when a newer one waits, so that the picture moves while a row is dragged. */
const PATIENCE = 400;

const cache = new ClipCache(CACHE_BYTES);
const rows = new RenderedRows(cache);
/** What was rendered last. */
let latest:
  { readonly sound: SoundKey; readonly chain: ChainDocument; readonly sounds: readonly NamedSound[] } | undefined;
/** What goes into each stage at the top of the chain: which row it is, and where the source lies in it. */
const inputs = new Map<string, { readonly row: RowKey; readonly span: Span }>();
let newest = 0;
/** Renders up to this one are given up. */
let stopped = 0;
let working = Promise.resolve();

export const renderWork = {
  /** Renders, reporting every row as it becomes ready. A newer call makes an older one give up, unless it is nearly done. */
  async render(
    generation: number,
    sound: SoundKey,
    chain: ChainDocument,
    sounds: readonly NamedSound[],
    report: (report: RenderReport) => void,
  ): Promise<void> {
    newest = generation;
    const turn = working.then(() =>
      newest === generation ? renderRows(generation, sound, chain, sounds, report) : undefined,
    );
    working = turn.catch(() => undefined);
    await turn;
  },

  /** Gives up what is being rendered. What is ready of it stays in the cache. */
  stop(): void {
    stopped = newest;
  },

  /** What a row shows, in shared memory, for playing. */
  async clip(key: RowKey): Promise<Clip | undefined> {
    const clip = rows.clip(key) ?? (await rendered(key));
    return clip && shared(clip);
  },

  /** Waits until the sound is there up to a frame. */
  async arrived(sound: SoundKey, frame: number): Promise<void> {
    await (await openSource(sound)).until(frame);
  },

  /** A part of a row in as many columns as are asked for; frames from the source's first. */
  async detail(key: RowKey, start: number, end: number, columns: number): Promise<Overview | undefined> {
    await working;
    const clip = rows.clip(key) ?? (await rendered(key));
    return clip && overviewOf(clip, start, end, columns);
  },

  /** What has to be rendered before a chain can be played live over a sound. */
  async prepare(sound: SoundKey, chain: ChainDocument, sounds: readonly NamedSound[]): Promise<Prepared> {
    await working;
    const used = await loadUsed(sounds, chain);
    const { clip, shift } = await prepare(sound, chain, bankOf(used));
    return { clip: shared(clip), shift, used };
  },

  /** The picture of a stage over what goes into it; undefined when that is not rendered, or cannot be drawn. */
  async stagePicture(
    stage: StageDocument,
    timing: Timing,
    scripts: readonly Script[],
  ): Promise<ClipPicture | undefined> {
    await working;
    const input = await inputOf(stage.id);
    if (!input) return undefined;
    try {
      return await drive(clipPictureOf(BUILT_INS.for({ scripts }), stage, input.clip, input.span, timing));
    } catch (error) {
      if (error instanceof InputError) return undefined; // the row says what is wrong
      throw error;
    }
  },

  /** Where notes begin in a sound, in seconds; nowhere in one that takes too long to look through. */
  async soundOnsets(sound: SoundKey): Promise<readonly number[]> {
    await working;
    const source = await loadSource(sound);
    if (frameCount(source) > LONGEST_LOOKED_THROUGH * source.sampleRate) return [];
    return noteStarts(source).map((frame) => (source.origin + frame) / source.sampleRate);
  },

  /** The tempo that a sound may have. */
  async soundTempo(sound: SoundKey): Promise<TempoEstimate> {
    return estimateTempo(await loadSource(sound));
  },

  /** How everything moves over the sound at hand, up to a frame; what a run of live stages hears is what it heard last. */
  async movementTrace(
    sound: SoundKey,
    chain: ChainDocument,
    sounds: readonly NamedSound[],
    end: number,
  ): Promise<MovementTrace | undefined> {
    await working;
    const bank = bankOf(await loadUsed(sounds, chain));
    const source = await loadSource(sound);
    const whole = { start: 0, end: frameCount(source) };
    const modulators = planModulators(chain, source.sampleRate, bank);
    const runs = cutIntoRuns(planStages(BUILT_INS, chain, source.sampleRate, bank)).filter(
      (run) => run.runs === 'live',
    );
    let traced: MovementTrace | undefined;
    for (const stages of runs.length > 0 ? runs.map((run) => run.stages) : [[]]) {
      const { clip, span } = (stages[0] && (await inputOf(stages[0].id))) ?? { clip: source, span: whole };
      const next = await drive(traceMovement(BUILT_INS, stages, modulators, clip, span, Math.max(end, clipEnd(clip))));
      // Later runs lie on the same timeline; one picture shows them together.
      traced = traced ? joinedTraces(traced, next) : next;
    }
    return traced;
  },

  /** Integrated loudness of a chain over a sound while a stretch goes round, as it is heard once settled. Seconds. */
  async loopLoudness(
    sound: SoundKey,
    chain: ChainDocument,
    loop: HeardStretch,
    sounds: readonly NamedSound[],
  ): Promise<number> {
    await working;
    const bank = bankOf(await loadUsed(sounds, chain));
    const { clip, shift } = await prepare(sound, chain, bank);
    const stretch = {
      start: Math.round(loop.start * clip.sampleRate),
      end: Math.round(loop.end * clip.sampleRate),
    };
    const plan = liveEnd(BUILT_INS, chain, clip.sampleRate, bank);
    const moved = { ...clip, origin: clip.origin + shift };
    // Round and round until the tails of earlier rounds are in it; once through when it is not looped.
    const tail = plan.reduce((sum, planned) => sum + tailOf(BUILT_INS, planned), 0);
    const rounds = loop.looped ? Math.ceil(Math.min(LONGEST_WARM_UP, tail) / (loop.end - loop.start)) : 0;
    const span = clip.span ?? { start: 0, end: (await loadSource(sound)).channels[0].length };
    const deck = { head: headOfClip(moved), plan, gain: 0, span, shift, channels: chain.render.channels };
    return integratedLoudness(await drive(captureLoop(BUILT_INS, deck, stretch, rounds)));
  },
};

/** Seconds of a sound in which notes are looked for. */
const LONGEST_LOOKED_THROUGH = 300;

/** Seconds of rounds that are run before a loop is measured. */
const LONGEST_WARM_UP = 12;

/** A row's clip where it is not kept: its stages run once more. */
async function rendered(row: RowKey): Promise<Clip | undefined> {
  const place = rows.place(row);
  if (!place || !latest) return undefined;
  const { sound, chain, sounds } = latest;
  const [source, used] = [await loadSource(sound), await loadUsed(sounds, chain)];
  const wanted = row.slice('stage:'.length);
  const until = { ...chain, stages: chain.stages.slice(0, place.index + 1) };
  const process = renderChain(BUILT_INS, {
    chain: until,
    source,
    sourceKey: sound.sha256,
    cache,
    sounds: bankOf(used),
    wanted,
  });
  let found: Clip | undefined;
  await drive(
    (function* () {
      for (let step = process.next(); !step.done; step = process.next()) {
        if (step.value.type === 'stage')
          found = [step.value, ...step.value.inside].find(({ id }) => id === wanted)?.clip ?? found;
        yield;
      }
    })(),
  );
  return found && cropClip(found, place.start, place.end);
}

/** What goes into a stage, wherever it stands; where the source lies in it is as in what goes into its holder. */
async function inputOf(stageId: string): Promise<{ readonly clip: Clip; readonly span: Span } | undefined> {
  const found = latest && inputRow(latest.chain.stages, stageId);
  const top = found && inputs.get(found.top);
  if (!top) return undefined;
  const row = found.top === stageId ? top.row : found.row;
  const clip = rows.clip(row) ?? (await rendered(row));
  return clip && { clip, span: (row === top.row ? undefined : clip.span) ?? top.span };
}

async function prepare(sound: SoundKey, chain: ChainDocument, sounds: SoundBank): Promise<Omit<Prepared, 'used'>> {
  const source = await loadSource(sound);
  const last = lastClipStage(BUILT_INS, chain);
  let clip = source;
  let end = source;
  const process = renderChain(BUILT_INS, {
    // Where the render is moved to shows only at its end; when it is not moved, the live stages are left out.
    chain: chain.render.anchor === 'source' ? { ...chain, stages: chain.stages.slice(0, last + 1) } : chain,
    source,
    sourceKey: sound.sha256,
    cache,
    sounds,
  });
  const result = await drive(
    (function* () {
      let step = process.next();
      for (; !step.done; step = process.next()) {
        // Whole-clip stages and the last of a run are held.
        if (step.value.type === 'stage' && step.value.clip) {
          end = step.value.clip;
          if (step.value.index === last) clip = step.value.clip;
        }
        yield;
      }
      return step.value;
    })(),
  );
  return { clip, shift: anchorShift(chain, end, result) };
}

/** Waits for all of the source; one that takes its time is shown, and can be played, as far as it has come. */
async function arrivalOf(arriving: ArrivingSound, tell: (news: Partial<RenderReport>) => void): Promise<Clip> {
  let told = performance.now();
  arriving.onPiece = () => {
    if (performance.now() - told < TELLING) return;
    told = performance.now();
    rows.clear();
    inputs.clear();
    tell({ row: { ...rows.hold('source', arriving.clip, arriving.outline), arrived: arriving.arrived } });
  };
  return arriving.whole;
}

async function renderRows(
  generation: number,
  sound: SoundKey,
  chain: ChainDocument,
  keys: readonly NamedSound[],
  report: (report: RenderReport) => void,
): Promise<void> {
  const began = performance.now();
  let sampleRate = 0;
  let sourceFrames = 0;
  const tell = (news: Partial<RenderReport>) => report({ generation, sampleRate, sourceFrames, ...news });
  try {
    const arriving = await openSource(sound);
    sampleRate = arriving.clip.sampleRate;
    sourceFrames = frameCount(arriving.clip);
    const source = await arrivalOf(arriving, tell);
    rows.clear();
    inputs.clear();
    latest = { sound, chain, sounds: keys };
    const lastWhole = lastClipStage(BUILT_INS, chain);
    let last = source;
    let before: RowKey = 'source';
    let span: Span = { start: 0, end: sourceFrames };
    const used = await loadUsed(keys, chain);
    tell({ row: rows.hold('source', source, arriving.outline), used });
    const { known, watch } = rows;
    const kept = { sourceKey: sound.sha256, cache, known, watch };
    const process = renderChain(BUILT_INS, { chain, source, sounds: bankOf(used), ...kept });
    let breath = performance.now();
    let told = breath;
    let runBegan = breath;
    let fresh: { readonly output: Output; readonly index: number }[] = [];
    let step = process.next();
    while (!step.done) {
      if (step.value.type === 'stage') {
        const { index, cached, inside, ...own } = step.value;
        inputs.set(own.id, { row: before, span });
        before = `stage:${own.id}`;
        last = own.clip ?? last;
        span = own.clip?.span ?? span;
        if (index === lastWhole) rows.holdOutput(before, last);
        for (const output of [own, ...inside]) {
          if (cached) tell({ row: rows.row(output, index) });
          else fresh.push({ output, index });
        }
      } else if (fresh.length > 0) {
        // The stages of a run are streamed together and become ready together.
        const cost = performance.now() - runBegan;
        for (const { output, index } of fresh) tell({ row: rows.row(output, index, cost, fresh.length) });
        fresh = [];
        runBegan = performance.now();
      }
      if (performance.now() - breath > BREATH) {
        await breathe();
        if (stopped >= generation) {
          tell({ stopped: true });
          return;
        }
        if (newest !== generation && performance.now() - began > PATIENCE) return;
        breath = performance.now();
        if (step.value.type === 'progress' && breath - told > TELLING) {
          told = breath;
          tell({ progress: step.value.done });
        }
      }
      step = process.next();
    }
    const shift = anchorShift(chain, last, step.value);
    tell({
      row: rows.hold('result', step.value),
      shift,
      span: { start: span.start + shift, end: span.end + shift },
      levelGain: gainOfFinish(applyLeadIn(last, chain), chain.render),
    });
    // While a row is dragged the next render counts; it is measured when the drag rests.
    await breathe();
    const wanted = () => newest === generation;
    const measures = wanted() ? await driveWhile(measureInSteps(step.value, false), wanted) : undefined;
    if (measures) tell({ measures });
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    tell({ refused: error.message });
  }
}
