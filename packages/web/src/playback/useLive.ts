import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { Clip, Span } from '@hexenkessel/core/model';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { planStages, type Planned } from '@hexenkessel/core/engine';
import type { Stretch } from '@hexenkessel/core/live';
import { tellFailure } from '../app/toaster.tsx';
import type { RowKey } from '../cascade/renderReport.ts';
import type { CascadeState } from '../cascade/useCascade.ts';
import type { Region } from '../chain/benchSlice.ts';
import { type DeckMessage, WORK_DECK } from './engineMessages.ts';
import { heardPart, heardText } from './heardPart.ts';
import { LivePlayer } from './livePlayer.ts';
import { Preparing } from './preparing.ts';

export interface Playback {
  /** The row that sounds; undefined when nothing does. */
  readonly playing: RowKey | undefined;
  /** Seconds from the source's first frame; undefined when nothing sounds. */
  readonly position: () => number | undefined;
  /** Plays a row, or stops it when it sounds already. */
  readonly toggle: (key: RowKey) => void;
  readonly stop: () => void;
  /** Goes on from a place, in seconds from the source's first frame; begins with the render where nothing plays. */
  readonly playFrom: (seconds: number) => void;
  /** What the audio thread shows of itself; undefined before it was first started. */
  readonly player: () => LivePlayer | undefined;
}

/** Something else to listen to than the chain being worked on. */
export interface OtherDeck extends DeckMessage {
  readonly id: string;
}

interface Asked {
  readonly cascade: CascadeState;
  readonly fetchClip: (key: RowKey) => Promise<Clip | undefined>;
  /** The chain as it is to be heard: branches beside a solo muted. */
  readonly document: ChainDocument;
  /** What is played; undefined while the sound is not there yet. */
  readonly stretch: Region | undefined;
  readonly loop: boolean;
  /** dB for the chain being worked on, to match others. */
  readonly gain: number;
  /** What else runs along, and what is heard: the work or one of the others. */
  readonly others: readonly OtherDeck[];
  readonly heard: string;
  /** The row that sounds. */
  readonly row: RowKey | undefined;
  readonly onRow: (row: RowKey | undefined) => void;
}

/** Stands for none of the decks: silence, while it plays on. */
export const NOTHING_HEARD = 'nothing';

const preparing = new Preparing();

const LEAST_LEFT = 0.01; // seconds
const WATCH = 60; // milliseconds between two looks at whether it still plays

/**
 * Plays rows of the Cascade live: what the whole-clip stages have made is read round the region, the live stages behind
 * them run as it plays, and every change is heard at once.
 */
export function useLive(asked: Asked): Playback {
  const { cascade, fetchClip, document, stretch, loop, gain, others, heard, row, onRow: setRow } = asked;
  const player = useRef<LivePlayer>(undefined);
  const opening = useRef<Promise<LivePlayer>>(undefined);
  const clips = useRef(new Map<number, Promise<Clip | undefined>>());
  const rowNow = useRef(row);
  rowNow.current = row;

  const { sampleRate } = cascade;
  const { wantedLatency } = BUILT_INS.headOf(document.head);

  /** A player at the sound's own rate. */
  const open = useCallback(
    (rate: number): Promise<LivePlayer> => {
      if (player.current?.sampleRate === rate) return Promise.resolve(player.current);
      opening.current ??= LivePlayer.open(rate, wantedLatency)
        .then((fresh) => {
          player.current?.close();
          player.current = fresh;
          fresh.onFailure = (text) => {
            fresh.close();
            if (player.current === fresh) player.current = undefined;
            setRow(undefined);
            tellFailure('Sound stopped', text);
          };
          return fresh;
        })
        .finally(() => (opening.current = undefined));
      return opening.current;
    },
    [setRow, wantedLatency],
  );

  useEffect(
    () => () => {
      player.current?.close();
      player.current = undefined;
    },
    [],
  );

  /** The clip a row shows; fetched once for the same content. */
  const clipOf = useCallback(
    (key: RowKey, clipId: number) => {
      let clip = clips.current.get(clipId);
      if (!clip) {
        clip = fetchClip(key);
        clips.current.set(clipId, clip);
        for (const old of clips.current.keys()) if (clips.current.size > 4) clips.current.delete(old);
      }
      return clip;
    },
    [fetchClip],
  );

  const part = heardPart(document, row ?? 'result');
  const prefixId = cascade.rows[part.prefix]?.clipId;
  const shift = row === 'result' ? cascade.shift : 0;
  const turn = useRef(0);
  /** The clip in use, moved to where the render is placed. */
  const moved = useRef<{ id: number; shift: number; clip: Clip }>(undefined);
  const takeClip = useCallback(
    async (key: RowKey, id: number, by: number): Promise<Clip | undefined> => {
      if (moved.current?.id === id && moved.current.shift === by) return moved.current.clip;
      const clip = await clipOf(key, id);
      if (!clip) return undefined;
      moved.current = { id, shift: by, clip: { ...clip, origin: clip.origin + by } };
      return moved.current.clip;
    },
    [clipOf],
  );

  /** Brings what is heard up to date. Numbers go at once; another clip follows when it has come. */
  const update = useRef<() => Promise<void>>(async () => undefined);
  update.current = async () => {
    const mine = ++turn.current;
    const live = player.current;
    if (prefixId === undefined || !live) return;
    const clip = await takeClip(part.prefix, prefixId, shift);
    if (!clip || mine !== turn.current || clip.sampleRate !== live.sampleRate) return;
    const wanted = () => mine === turn.current;
    const prepare = (stages: readonly Planned[]) => preparing.prepare(stages, clip.sampleRate, wanted);
    const plan = await prepare(planStages(BUILT_INS, part.chain, clip.sampleRate, cascade.bank));
    const beside = await Promise.all(others.map(async (other) => ({ ...other, plan: await prepare(other.plan) })));
    if (!wanted()) return;
    live.setWork({
      head: headOfClip(clip),
      plan,
      gain,
      span: spanOf(clip, cascade),
      shift,
      channels: part.chain.render.channels,
    });
    for (const { id, ...content } of beside) if (content.head.sampleRate === clip.sampleRate) live.setDeck(id, content);
    live.keep([WORK_DECK, ...others.map(({ id }) => id)]);
    live.listen(heard === NOTHING_HEARD || others.some(({ id }) => id === heard) ? heard : WORK_DECK);
  };

  const chainText = heardText(part.chain);
  useEffect(() => {
    if (rowNow.current) update.current().catch(tell);
  }, [chainText, prefixId, shift, row, gain, others, heard, cascade.bankKey]);

  const frames = useCallback(
    ({ start, end }: Region): Stretch => ({
      start: Math.round(start * sampleRate),
      end: Math.max(Math.round(start * sampleRate) + 1, Math.round(end * sampleRate)),
    }),
    [sampleRate],
  );

  const stretchStart = stretch?.start;
  const stretchEnd = stretch?.end;
  useEffect(() => {
    if (!rowNow.current || stretchStart === undefined || stretchEnd === undefined) return;
    const whole = frames({ start: stretchStart, end: stretchEnd });
    player.current?.setLoop(loop ? whole : undefined, loop ? Infinity : whole.end);
  }, [stretchStart, stretchEnd, loop, frames]);

  const starting = useRef(false);
  /** Counts what was asked for, so that a start that was waiting for the audio thread knows when it was stopped meanwhile. */
  const wish = useRef(0);
  // The end of a sound is seen on the board; nothing calls.
  useEffect(() => {
    if (row === undefined) return undefined;
    const timer = setInterval(() => {
      if (!starting.current && player.current && !player.current.playing) setRow(undefined);
    }, WATCH);
    return () => clearInterval(timer);
  }, [row, setRow]);

  const stop = useCallback(() => {
    wish.current++;
    starting.current = false;
    player.current?.stop();
    setRow(undefined);
  }, [setRow]);

  // A sound of another rate needs another player; it goes on from the same place.
  const last = useRef(0);
  const start = useRef<(key: RowKey, from?: number) => Promise<void>>(async () => undefined);
  start.current = async (key, from) => {
    starting.current = true;
    const mine = ++wish.current;
    try {
      setRow(key);
      rowNow.current = key;
      const first = heardPart(document, key);
      const id = cascade.rows[first.prefix]?.clipId;
      if (id === undefined || !stretch) {
        setRow(undefined);
        tellFailure('Nothing to play yet', 'The row is still being rendered; try again in a moment.');
        return;
      }
      const live = await open(sampleRate);
      const whole = frames(stretch);
      const clip = await takeClip(first.prefix, id, key === 'result' ? cascade.shift : 0);
      if (mine !== wish.current) return;
      if (!clip) throw new Error('The sound is not there any more; choose another one.');
      const moved = key === 'result' ? cascade.shift : 0;
      const planned = planStages(BUILT_INS, first.chain, sampleRate, cascade.bank);
      const plan = await preparing.prepare(planned, sampleRate, () => mine === wish.current);
      if (mine !== wish.current) return;
      const { channels } = first.chain.render;
      live.setWork({ head: headOfClip(clip), plan, gain, span: spanOf(clip, cascade), shift: moved, channels });
      await live.play(from ?? whole.start, loop ? whole : undefined, loop ? Infinity : whole.end);
      await update.current();
    } catch (error) {
      setRow(undefined);
      tell(error);
    } finally {
      if (mine === wish.current) starting.current = false;
    }
  };
  useEffect(() => {
    if (rowNow.current && player.current && player.current.sampleRate !== sampleRate && prefixId !== undefined)
      void start.current(rowNow.current, Math.round(last.current * sampleRate));
  }, [sampleRate, prefixId]);

  const toggle = useCallback(
    (key: RowKey) => {
      if (rowNow.current === key) stop();
      else if (rowNow.current && player.current) setRow(key);
      else void start.current(key);
    },
    [stop, setRow],
  );
  const around = useRef(stretch);
  around.current = stretch;
  const playFrom = useCallback(
    (seconds: number) => {
      const { start: first, end } = around.current ?? { start: 0, end: 0 };
      // At the very end there would be nothing left to hear.
      const within = Math.max(first, Math.min(end - LEAST_LEFT, seconds));
      void start.current(rowNow.current ?? 'result', Math.round(within * sampleRate));
    },
    [sampleRate],
  );
  const position = useCallback(() => {
    if (player.current?.playing) last.current = player.current.position;
    return player.current?.playing ? last.current : undefined;
  }, []);
  const current = useCallback(() => player.current, []);
  return useMemo(
    () => ({ playing: row, position, toggle, stop, playFrom, player: current }),
    [row, position, toggle, stop, playFrom, current],
  );
}

/** Where the source lies in a clip: as a stage has said, or where it was from the first. */
function spanOf(clip: Clip, { sourceFrames }: CascadeState): Span {
  return clip.span ?? { start: 0, end: sourceFrames };
}

function tell(error: unknown): void {
  tellFailure('Cannot play', error instanceof Error ? error.message : String(error));
}
