import { useEffect, useMemo, useRef, useState } from 'react';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { bankOf, liveEnd } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import type { HeardStretch } from '../cascade/renderReport.ts';
import type { ChainRenderer } from '../cascade/chainRenderer.ts';
import { useSubject } from '../parts/useSubject.ts';
import { heardText } from '../playback/heardPart.ts';
import type { OtherDeck } from '../playback/playback.ts';

/** Something that the chain being worked on is compared with. */
export interface Candidate {
  readonly id: string;
  readonly title: string;
  readonly document: ChainDocument;
}

export interface Compared {
  /** What is ready to be heard. */
  readonly decks: readonly OtherDeck[];
  /** dB that a candidate, or `work`, is turned up or down by. */
  readonly gainOf: (id: string) => number;
  /** LU that a candidate is still away from the others' loudness, because no more than so much is turned up or down. */
  readonly missingOf: (id: string) => number;
  /** LUFS of a candidate over the stretch; undefined until it is measured. */
  readonly loudnessOf: (id: string) => number | undefined;
  /** True when a candidate can be heard at the loudness that it has over the stretch as it is now. */
  readonly isMatched: (id: string) => boolean;
  /** True while something is prepared or measured. */
  readonly busy: boolean;
}

interface Asked {
  readonly sound: Sound;
  readonly renderer: ChainRenderer;
  /** The chain as it is heard now. */
  readonly work: ChainDocument;
  /** The same list as long as nothing in it changes. */
  readonly wanted: readonly Candidate[];
  /** undefined while there is none; then nothing is measured. */
  readonly stretch: HeardStretch | undefined;
  readonly matched: boolean;
  readonly onFailure: (text: string) => void;
}

export const DRY = 'dry';
const NOWHERE: HeardStretch = { start: 0, end: 0, looped: false };
/** dB: a change of the work that made it as much louder would be heard before it is measured. */
const MOST_GAIN = 24;
/** What the ids of things compared blind begin with. */
export const BLIND = 'blind-';
const REST = 250; // milliseconds without a change before the work is measured

/** What a measured loudness depends on. */
const measureKey = ({ sha256 }: Sound, { start, end, looped }: HeardStretch, document: ChainDocument) =>
  `${sha256} ${start} ${end} ${String(looped)} ${heardText(document)}`;

/** The sound before the chain, as a chain of nothing. */
export function dryOf(document: ChainDocument): ChainDocument {
  const nothing = { stages: [], panel: [], modulators: [], routes: [], lanes: [], locked: [] };
  return { ...document, ...nothing, render: { ...document.render, anchor: 'source', channels: 'as they come' } };
}

/**
 * Prepares what is compared and, when asked, measures how loud each is over the stretch that is heard, so that all can be
 * played as loud as the dry sound (or, where that is silent, as the work).
 */
export function useCompare({ sound, renderer, work, wanted, stretch, matched, onFailure }: Asked): Compared {
  const rendering = useSubject(renderer, ({ busy }) => busy);
  const [prepared, setPrepared] = useState<Readonly<Record<string, { key: string; deck: OtherDeck }>>>({});
  const [loudness, setLoudness] = useState<Readonly<Record<string, { key: string; value: number }>>>({});
  const failed = useRef(onFailure);
  useEffect(() => {
    failed.current = onFailure;
  });

  useEffect(() => {
    let left = false;
    const run = async () => {
      for (const { id, document } of wanted) {
        const key = `${sound.sha256} ${heardText(document)}`;
        const ready = await renderer.prepare(sound, document);
        if (left) return;
        const { clip, shift, used } = ready;
        const plan = liveEnd(BUILT_INS, document, clip.sampleRate, bankOf(used));
        const span = clip.span ?? { start: 0, end: sound.frames };
        const deck = {
          id,
          head: headOfClip({ ...clip, origin: clip.origin + shift }),
          plan,
          gain: 0,
          span,
          shift,
          channels: document.render.channels,
        };
        setPrepared((before) => (before[id]?.key === key ? before : { ...before, [id]: { key, deck } }));
      }
    };
    run().catch((error: unknown) => failed.current(error instanceof Error ? error.message : String(error)));
    return () => {
      left = true;
    };
  }, [wanted, sound, renderer]);

  const { start, end, looped } = stretch ?? NOWHERE;
  const workKey = useMemo(() => (matched ? heardText(work) : ''), [matched, work]);
  const latestWork = useRef(work);
  useEffect(() => {
    latestWork.current = work;
  });
  useEffect(() => {
    if (!matched || rendering || end <= start) return undefined;
    let left = false;
    const measure = async () => {
      const dry = { id: DRY, document: dryOf(latestWork.current) };
      for (const { id, document } of [dry, { id: 'work', document: latestWork.current }, ...wanted]) {
        const key = measureKey(sound, { start, end, looped }, document);
        const value = await renderer.loopLoudness(sound, document, { start, end, looped });
        if (left) return;
        setLoudness((before) => (before[id]?.key === key ? before : { ...before, [id]: { key, value } }));
      }
    };
    const timer = setTimeout(() => {
      measure().catch((error: unknown) => failed.current(error instanceof Error ? error.message : String(error)));
    }, REST);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [workKey, wanted, sound, matched, rendering, start, end, looped, renderer]);

  return useMemo(() => {
    const isMatched = (id: string) => {
      const candidate = wanted.find((one) => one.id === id);
      if (!candidate || !prepared[id]) return false;
      return loudness[id]?.key === measureKey(sound, { start, end, looped }, candidate.document);
    };
    const loudnessOf = (id: string) => loudness[id]?.value;
    const reference = [DRY, 'work'].map(loudnessOf).find((value) => value !== undefined && Number.isFinite(value));
    const gainOf = (id: string) => {
      const own = loudnessOf(id);
      if (!matched || own === undefined || reference === undefined || !Number.isFinite(own)) return 0;
      const wanted = reference - own;
      // What is compared blind does not change any more: it cannot suddenly be as much too loud.
      return id.startsWith(BLIND) ? wanted : Math.max(-MOST_GAIN, Math.min(MOST_GAIN, wanted));
    };
    const missingOf = (id: string) => {
      const own = loudnessOf(id);
      if (!matched || own === undefined || reference === undefined || !Number.isFinite(own)) return 0;
      return reference - own - gainOf(id);
    };
    const decks = wanted.flatMap(({ id }) => {
      const ready = prepared[id];
      return ready ? [{ ...ready.deck, gain: gainOf(id) }] : [];
    });
    const busy = decks.length < wanted.length || (matched && loudnessOf('work') === undefined);
    return { decks, gainOf, missingOf, loudnessOf, isMatched, busy };
  }, [prepared, loudness, matched, wanted, sound, start, end, looped]);
}
