import { EventEmitter } from 'node:events';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { estimateRender, soundUses } from '@hexenkessel/core/engine';
import { leftOutMarks, renderedMarks } from '@hexenkessel/core/formats';
import type { Render, RenderOrder, Sound } from '@hexenkessel/core/protocol';
import { now } from '../database/identity.ts';
import { Problem } from '../http/problem.ts';
import { DiskFull, isDiskFull } from '../store/diskFull.ts';
import { RESERVE_BYTES } from '../store/reserve.ts';
import type { AudioFiles } from '../sounds/audioFiles.ts';
import type { Sounds } from '../sounds/sounds.ts';
import { RenderCancelled, type AudioWorkers, type RunningRender } from '../workers/audioWorkers.ts';
import type { RenderTask } from '../workers/tasks.ts';
import type { Renders } from './renders.ts';

interface Parts {
  readonly database: Knex;
  readonly renders: Renders;
  readonly sounds: Sounds;
  readonly files: AudioFiles;
  readonly workers: AudioWorkers;
  readonly log: Logger;
  /** Milliseconds that a render may take which is expected to take so many seconds. */
  readonly patience?: (seconds: number) => number;
}

/** Renders that run at once; more would only take each other's time. */
const AT_ONCE = 1;
/** How often a render is begun that ends the process. */
const MOST_ATTEMPTS = 2;
const PROGRESS_INTERVAL = 100; // milliseconds between two reports of one job

/**
 * Runs render jobs one after another, of each chain in turn. Jobs are rows: one that was running when the server stopped is run again at the
 * next start. Emits `change` with the render whenever something about it changes, and `close` when no more will.
 */
export class RenderJobs extends EventEmitter<{ change: [Render]; close: [] }> {
  private readonly parts: Parts;
  private readonly running = new Map<string, RunningRender>();
  /** Chains that have had a turn while they waited, the last one last. */
  private turns: string[] = [];
  private starting = 0;
  /** True when a job may have come while another was being looked for. */
  private asked = false;
  private closed = false;

  constructor(parts: Parts) {
    super();
    // As many as there are browsers.
    this.setMaxListeners(0);
    this.parts = parts;
  }

  /** Takes up what an earlier run left. */
  async open(): Promise<void> {
    const { database } = this.parts;
    await database('jobs').where({ status: 'running' }).where('attempts', '>=', MOST_ATTEMPTS).update({
      status: 'failed',
      error: 'The server ended twice while this was rendered; it was given up.',
      finished_at: now(),
    });
    await database('jobs').where({ status: 'running' }).update({ status: 'queued', progress: 0 });
    void this.runNext();
  }

  /** Adds a render; it starts when its turn comes. */
  async add(request: RenderOrder): Promise<Render> {
    const id = await this.parts.renders.add(request);
    const render = await this.report(id);
    void this.runNext();
    return render;
  }

  /** Renders the same again, into a new sound. */
  async addAgain(id: string): Promise<Render> {
    const render = await this.report(await this.parts.renders.addAgain(id));
    void this.runNext();
    return render;
  }

  /** Gives up a render that waits or runs; Problem 409 when it is already over. */
  async cancel(id: string): Promise<Render> {
    const render = await this.parts.renders.entry(id);
    const waiting = await this.parts
      .database('jobs')
      .where({ id, status: 'queued' })
      .update({ status: 'cancelled', finished_at: now() });
    if (waiting === 0) {
      const running = this.running.get(id);
      if (!running)
        throw new Problem(409, `This render is ${render.status}; only one that waits or runs can be cancelled.`);
      running.cancel();
      await running.result.catch(() => undefined);
    }
    return this.report(id);
  }

  /** Stops work; what was running is run again at the next start. */
  async close(): Promise<void> {
    this.closed = true;
    this.emit('close');
    const ids = [...this.running.keys()];
    for (const running of this.running.values()) running.cancel();
    await Promise.allSettled([...this.running.values()].map(({ result }) => result));
    // It was not they that ended the process.
    const { database } = this.parts;
    await database('jobs')
      .whereIn('id', ids)
      .where({ status: 'running' })
      .update({ attempts: database.raw('attempts - 1') });
  }

  private async runNext(): Promise<void> {
    if (this.closed) return;
    if (this.running.size + this.starting >= AT_ONCE) {
      this.asked = true;
      return;
    }
    this.starting += 1;
    this.asked = false;
    let more = true;
    try {
      const next = await this.nextJob();
      if (next !== undefined && !this.closed) await this.run(next);
      else more = false;
    } catch (error) {
      this.parts.log.error({ err: error }, 'a render could not be started');
      more = false;
    } finally {
      this.starting -= 1;
    }
    if (more || this.asked) void this.runNext();
  }

  /** The oldest of the chain that waits longest for a turn: a few renders do not wait for the hundreds of another. */
  private async nextJob(): Promise<string | undefined> {
    const waiting = await this.parts
      .database('jobs')
      .join('renders', 'renders.job_id', 'jobs.id')
      .where({ kind: 'render', status: 'queued' })
      .groupBy('renders.chain_id')
      .orderBy('id')
      .select<{ chain_id: string; id: string }[]>('renders.chain_id', this.parts.database.raw('min(jobs.id) AS id'));
    const lastTurn = (chain: string) => this.turns.indexOf(chain);
    const [next] = waiting.sort((a, b) => lastTurn(a.chain_id) - lastTurn(b.chain_id));
    if (!next) return undefined;
    const others = new Set(waiting.map(({ chain_id }) => chain_id).filter((chain) => chain !== next.chain_id));
    this.turns = [...this.turns.filter((chain) => others.has(chain)), next.chain_id];
    return next.id;
  }

  private async run(id: string): Promise<void> {
    const { database, renders, sounds, files, workers, log } = this.parts;
    const outputPath = files.temporaryPath();
    /** The milliseconds after which it was ended. */
    let late: number | undefined;
    try {
      const render = await renders.get(id);
      const source = await sounds.get(render.sourceId);
      if (!(await files.exists(source))) throw new InputError(`The audio of "${source.name}" is missing on disk.`);
      const expected = estimateRender(BUILT_INS, render.document, { ...source, frames: coveredFrames(render, source) });
      await this.refuseWithoutRoom(expected.bytes + (render.region ? source.bytes : 0));
      const used = await this.soundsOf(render.document);
      const taken = await database('jobs')
        .where({ id, status: 'queued' })
        .update({ status: 'running', started_at: now(), attempts: database.raw('attempts + 1') });
      if (taken === 0) return; // cancelled meanwhile
      const running = workers.render(
        {
          sourcePath: files.pathOf(source.sha256),
          outputPath,
          chain: render.document,
          sounds: used,
          name: render.name,
          version: render.version,
          region: render.region ?? undefined,
        },
        this.progressReporter(id),
      );
      this.running.set(id, running);
      await this.report(id);
      const milliseconds = (this.parts.patience ?? patienceFor)(expected.seconds);
      const timer = setTimeout(() => {
        late = milliseconds;
        running.cancel();
      }, milliseconds);
      const { gaveUp, ...rendered } = await running.result.finally(() => clearTimeout(timer));
      await files.keep(outputPath, rendered.sha256);
      await database.transaction(async (transaction) => {
        const { frames, sampleRate } = source;
        const marks = renderedMarks(BUILT_INS, source.marks, render.document, {
          frames,
          sampleRate,
          region: render.region ?? undefined,
          originFrames: rendered.originFrames,
          renderFrames: rendered.frames,
        });
        const soundId = await sounds.add(
          { name: render.name, kind: 'render', signal: null, sourceFormat: 'wav', marks, ...rendered },
          transaction,
        );
        const leftOut = JSON.stringify(leftOutMarks(source.marks, marks));
        await transaction('renders')
          .where({ id })
          .update({
            sound_id: soundId,
            left_out: leftOut,
            gave_up: gaveUp.length > 0 ? JSON.stringify(gaveUp) : null,
          });
        await transaction('jobs').where({ id }).update({ status: 'done', progress: 1, finished_at: now() });
      });
    } catch (error) {
      if (this.closed) return;
      // First of all, for on a full disk nothing could be noted otherwise.
      await files.discard(outputPath);
      const cancelled = error instanceof RenderCancelled && late === undefined;
      const fault = late === undefined ? error : new InputError(tooLongText(late));
      const told = fault instanceof InputError || isDiskFull(fault);
      if (!cancelled && !told) log.error({ err: error, render: id }, 'render failed');
      const message = told ? (fault as Error).message : 'The render failed; the server’s log says why.';
      await database('jobs')
        .where({ id })
        .update({ status: cancelled ? 'cancelled' : 'failed', error: cancelled ? null : message, finished_at: now() });
    } finally {
      this.running.delete(id);
      await files.discard(outputPath);
    }
    await this.report(id);
  }

  /** DiskFull when a render may get larger than there is room. */
  private async refuseWithoutRoom(bytes: number): Promise<void> {
    const free = await this.parts.files.freeBytes();
    if (free >= bytes + RESERVE_BYTES) return;
    const megabytes = (count: number) => `${Math.ceil(count / 1e6)} MB`;
    throw new DiskFull(
      `The disk is full: the render takes up to ${megabytes(bytes)}, ${megabytes(free)} are free. Free some space and render again.`,
    );
  }

  /** The sounds that a chain's stages name, as far as they are there. */
  private async soundsOf(chain: ChainDocument): Promise<RenderTask['sounds']> {
    const { sounds, files } = this.parts;
    const found = await Promise.all(
      soundUses(BUILT_INS, chain).map(async ({ ref }) => {
        const sound = await sounds.findMeant(ref);
        if (!sound || !(await files.exists(sound))) return [];
        return [{ name: ref.sound, sha256: sound.sha256, path: files.pathOf(sound.sha256) }];
      }),
    );
    return found.flat();
  }

  private progressReporter(id: string): (done: number) => void {
    let last = 0;
    return (done) => {
      if (Date.now() - last < PROGRESS_INTERVAL || this.closed) return;
      last = Date.now();
      this.parts
        .database('jobs')
        .where({ id, status: 'running' })
        .update({ progress: done })
        .then(() => this.report(id))
        .catch((error: unknown) => this.parts.log.warn({ err: error }, 'progress could not be noted'));
    };
  }

  private async report(id: string): Promise<Render> {
    const render = await this.parts.renders.entry(id);
    this.emit('change', render);
    return render;
  }
}

const LEAST_PATIENCE = 10 * 60_000; // milliseconds

/** Milliseconds after which a render that was expected to take so many seconds is not waited for. */
const patienceFor = (seconds: number) => Math.max(LEAST_PATIENCE, 10_000 * seconds);

const tooLongText = (milliseconds: number) =>
  `It was ended after ${Math.round(milliseconds / 60_000)} minutes, far beyond what it was expected to take.`;

function coveredFrames({ region }: Render, { frames }: Sound): number {
  return region ? region.region.end - region.region.start : frames;
}
