import { useEffect, useMemo, useRef, useState } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { changeList, emptyChain, newStage } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { useCascade } from '../cascade/useCascade.ts';
import type { RowKey } from '../cascade/renderReport.ts';
import { heardStretch } from '../playback/heardStretch.ts';
import { useLive } from '../playback/useLive.ts';

interface Props {
  readonly kind: string;
  readonly sound: Sound;
  /** Called when it has ended or cannot be played. */
  readonly onEnd: () => void;
}

const NOTHING_ELSE: never[] = [];

/** Plays a sound through one stage as it comes, once; shows nothing but what it waits for. */
export function Listening({ kind, sound, onEnd }: Props) {
  const document = useMemo(() => {
    const chain = emptyChain(BUILT_INS, 'Listening');
    return changeList(chain, undefined, () => [newStage(BUILT_INS, chain, { kind })]);
  }, [kind]);
  const cascade = useCascade(sound, document);
  const [row, setRow] = useState<RowKey>();
  const playback = useLive({
    cascade,
    fetchClip: cascade.fetchClip,
    document,
    stretch: heardStretch(cascade, null),
    loop: false,
    gain: 0,
    others: NOTHING_ELSE,
    heard: 'work',
    row,
    onRow: setRow,
  });
  const ready = cascade.rows.result !== undefined && !cascade.busy;
  const begun = useRef(false);
  const { toggle } = playback;
  useEffect(() => {
    if (!ready || begun.current) return;
    begun.current = true;
    toggle('result');
  }, [ready, toggle]);
  const sounded = useRef(false);
  useEffect(() => {
    if (row !== undefined) sounded.current = true;
    else if (sounded.current) onEnd();
  }, [row, onEnd]);
  useEffect(() => {
    if (cascade.failure !== undefined) onEnd();
  }, [cascade.failure, onEnd]);
  return <span role="status">{row === undefined ? 'rendering …' : `playing ${sound.name}`}</span>;
}
