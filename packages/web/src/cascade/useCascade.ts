import { proxy, wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Clip, Span, Timing } from '@hexenkessel/core/model';
import { BUILT_INS, type ClipPicture, type Script } from '@hexenkessel/core/stages';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import { NO_SOUNDS, bankOf, isMeant, soundUses, type MovementTrace, type SoundBank } from '@hexenkessel/core/engine';
import type { Measures, TempoEstimate } from '@hexenkessel/core/analysis';
import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundsQuery } from '../api/api.ts';
import type { HeardStretch, Prepared, RenderReport, RowKey, RowPicture } from './renderReport.ts';
import type { RenderWorker } from './renderWorker.ts';

export interface CascadeState {
  readonly rows: Readonly<Partial<Record<RowKey, RowPicture>>>;
  /** Rows that no longer show the chain as it is. */
  readonly stale: ReadonlySet<RowKey>;
  readonly busy: boolean;
  /** How much of a render that takes its time is done, 0…1. */
  readonly progress: number | undefined;
  /** True when it was given up on request. */
  readonly stopped: boolean;
  readonly sampleRate: number;
  readonly sourceFrames: number;
  readonly measures: Measures | undefined;
  /** Frames that placing the render at its anchor moves it by. */
  readonly shift: number;
  /** Where the sound lies in the render, in frames from the source's first; undefined before it is known. */
  readonly span: Span | undefined;
  /** dB by which the render is brought to its level. */
  readonly levelGain: number;
  readonly failure: string | undefined;
  /** The sounds that the chain's stages name, as far as they are loaded; the same one as long as nothing changes. */
  readonly bank: SoundBank;
  /** What the bank holds. */
  readonly bankKey: string;
  /** Milliseconds from the last change to the last row. */
  readonly latency: number | undefined;
}

const EMPTY: CascadeState = {
  rows: {},
  stale: new Set(),
  busy: false,
  progress: undefined,
  stopped: false,
  sampleRate: 48000,
  sourceFrames: 0,
  measures: undefined,
  shift: 0,
  span: undefined,
  levelGain: 0,
  failure: undefined,
  bank: NO_SOUNDS,
  bankKey: '',
  latency: undefined,
};

/** What else the renderer gives. */
export interface CascadeSource {
  /** Gives up what is being rendered, and takes it up again from what is ready. */
  readonly stop: () => void;
  readonly goOn: () => void;
  readonly stagePicture: (
    stage: StageDocument,
    timing: Timing,
    scripts: readonly Script[],
  ) => Promise<ClipPicture | undefined>;
  /** The tempo that the sound at hand may have. */
  readonly soundTempo: () => Promise<TempoEstimate | undefined>;
  /** How everything moves, up to a frame. */
  readonly movementTrace: (chain: ChainDocument, end: number) => Promise<MovementTrace | undefined>;
  readonly fetchClip: (key: RowKey) => Promise<Clip | undefined>;
  readonly prepare: (sound: Sound, chain: ChainDocument) => Promise<Prepared | undefined>;
  readonly loopLoudness: (sound: Sound, chain: ChainDocument, loop: HeardStretch) => Promise<number | undefined>;
}

/** Renders the chain over the sound in a web worker and gives the pictures of its rows as they become ready. */
export function useCascade(sound: Sound | undefined, document: ChainDocument): CascadeState & CascadeSource {
  const [state, setState] = useState(EMPTY);
  const [goes, setGoes] = useState(0);
  const remote = useRef<Remote<RenderWorker>>(undefined);
  const generation = useRef(0);
  const shownSound = useRef<string>(undefined);

  useEffect(() => {
    const thread = new Worker(new URL('./renderWorker.ts', import.meta.url), { type: 'module' });
    remote.current = wrap<RenderWorker>(thread);
    thread.addEventListener('error', (event) => {
      setState((before) => ({
        ...before,
        busy: false,
        failure: `The renderer stopped: ${event.message}. Reload the page to go on.`,
      }));
    });
    return () => {
      remote.current = undefined;
      thread.terminate();
    };
  }, []);

  const listed = useSoundsQuery().data;
  const named = useMemo(
    () => listed?.map(({ id, name, sha256: hash }) => ({ id, name, sha256: hash })) ?? [],
    [listed],
  );
  const namedNow = useRef(named);
  namedNow.current = named;
  // Renders come and go; only what the chain names matters.
  const namedKey = soundUses(BUILT_INS, document)
    .map(({ ref }) => named.find((candidate) => isMeant(ref, candidate))?.sha256 ?? '')
    .join();
  const soundId = sound?.id;
  const sha256 = sound?.sha256;
  // Names, notes and tags change nothing that is heard.
  const heard = JSON.stringify({ ...document, name: '', about: {}, render: { ...document.render, name: '' } });
  const latest = useRef(document);
  latest.current = document;

  useEffect(() => {
    if (soundId === undefined || sha256 === undefined || !remote.current) return;
    const mine = ++generation.current;
    const began = performance.now();
    const otherSound = shownSound.current !== sha256;
    shownSound.current = sha256;
    setState((before) => ({
      ...(otherSound ? EMPTY : before),
      busy: true,
      progress: undefined,
      stopped: false,
      failure: undefined,
      stale: new Set(Object.keys(otherSound ? {} : before.rows) as RowKey[]),
    }));
    const onReport = (report: RenderReport) => {
      setState((before) => {
        if (report.generation < generation.current && report.row === undefined) return before;
        const current = report.generation === generation.current;
        return applyReport(before, report, current, performance.now() - began);
      });
    };
    remote.current
      .render(mine, { id: soundId, sha256 }, latest.current, namedNow.current, proxy(onReport))
      .catch((error: unknown) =>
        setState((before) => ({ ...before, busy: false, failure: `The renderer failed: ${String(error)}` })),
      );
  }, [soundId, sha256, heard, namedKey, goes]);

  const stop = useCallback(() => void remote.current?.stop(), []);
  const goOn = useCallback(() => setGoes((n) => n + 1), []);
  const fetchClip = useCallback(async (key: RowKey) => remote.current?.clip(key), []);
  const prepare = useCallback(
    async ({ id, sha256: hash }: Sound, chain: ChainDocument) =>
      remote.current?.prepare({ id, sha256: hash }, chain, namedNow.current),
    [],
  );
  const loopLoudness = useCallback(
    async ({ id, sha256: hash }: Sound, chain: ChainDocument, loop: HeardStretch) =>
      remote.current?.loopLoudness({ id, sha256: hash }, chain, loop, namedNow.current),
    [],
  );
  const stagePicture = useCallback(
    async (stage: StageDocument, timing: Timing, scripts: readonly Script[]) =>
      remote.current?.stagePicture(stage, timing, scripts),
    [],
  );
  const movementTrace = useCallback(
    async (chain: ChainDocument, end: number) =>
      soundId === undefined || sha256 === undefined
        ? undefined
        : remote.current?.movementTrace({ id: soundId, sha256 }, chain, namedNow.current, end),
    [soundId, sha256],
  );
  const soundTempo = useCallback(
    async () =>
      soundId === undefined || sha256 === undefined ? undefined : remote.current?.soundTempo({ id: soundId, sha256 }),
    [soundId, sha256],
  );
  return { ...state, movementTrace, soundTempo, stop, goOn, fetchClip, prepare, loopLoudness, stagePicture };
}

/** A picture of an older state of the chain is better than none, but stays marked as stale. */
function applyReport(before: CascadeState, report: RenderReport, current: boolean, latency: number): CascadeState {
  if (report.stopped) return current ? { ...before, busy: false, progress: undefined, stopped: true } : before;
  if (report.progress !== undefined) return current ? { ...before, progress: report.progress } : before;
  if (report.refused !== undefined) return { ...before, busy: false, failure: report.refused };
  const rows = report.row ? { ...before.rows, [report.row.key]: report.row } : before.rows;
  const stale = new Set(before.stale);
  if (report.row && current) stale.delete(report.row.key);
  const bankKey = report.used?.map(({ sha256, name }) => `${sha256} ${name}`).join() ?? before.bankKey;
  const done = current && report.measures !== undefined;
  return {
    rows,
    stale,
    busy: done ? false : before.busy,
    progress: done ? undefined : before.progress,
    stopped: false,
    sampleRate: report.sampleRate,
    sourceFrames: report.sourceFrames,
    measures: report.measures ?? before.measures,
    shift: (current ? report.shift : undefined) ?? before.shift,
    span: (current ? report.span : undefined) ?? before.span,
    levelGain: (current ? report.levelGain : undefined) ?? before.levelGain,
    failure: undefined,
    bank: bankKey === before.bankKey ? before.bank : bankOf(report.used ?? []),
    bankKey,
    latency: done ? latency : before.latency,
  };
}
