import { useEffect, useRef } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import type { ChainRenderer } from '../cascade/chainRenderer.ts';
import { useRenderOf } from '../cascade/useRenderer.ts';
import { useSubject } from '../parts/useSubject.ts';
import type { Hearing, Playback } from '../playback/playback.ts';
import { useNewPlayback } from '../playback/usePlayback.ts';

interface Props {
  /** Of the one stage. */
  readonly chain: ChainDocument;
  readonly sound: Sound;
  /** Called when it has ended or cannot be played. */
  readonly onEnd: () => void;
}

const ONCE: Omit<Hearing, 'document'> = {
  region: null,
  loop: false,
  loopTail: false,
  gain: 0,
  atLevel: true,
  others: [],
  heard: 'work',
};

/** Plays a sound through one stage as it comes, once; shows nothing but what it waits for. */
export function Listening({ chain, sound, onEnd }: Props) {
  const { renderer } = useRenderOf(sound, chain);
  const playback = useNewPlayback(renderer);
  useEffect(() => playback?.hear({ ...ONCE, document: chain }), [playback, chain]);
  if (!renderer || !playback) return null;
  return <Heard renderer={renderer} playback={playback} name={sound.name} onEnd={onEnd} />;
}

interface HeardProps {
  readonly renderer: ChainRenderer;
  readonly playback: Playback;
  readonly name: string;
  readonly onEnd: () => void;
}

function Heard({ renderer, playback, name, onEnd }: HeardProps) {
  const ready = useSubject(renderer, ({ rows, busy }) => rows.result !== undefined && !busy);
  const failed = useSubject(renderer, ({ failure }) => failure !== undefined);
  const row = useSubject(playback, (state) => state.row);
  const begun = useRef(false);
  useEffect(() => {
    if (!ready || begun.current) return;
    begun.current = true;
    playback.toggle('result');
  }, [ready, playback]);
  const sounded = useRef(false);
  useEffect(() => {
    if (row !== undefined) sounded.current = true;
    else if (sounded.current) onEnd();
  }, [row, onEnd]);
  useEffect(() => {
    if (failed) onEnd();
  }, [failed, onEnd]);
  return <span role="status">{row === undefined ? 'rendering …' : `playing ${name}`}</span>;
}
