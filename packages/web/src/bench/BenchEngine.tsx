import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { withSolos } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundNamesQuery } from '../api/api.ts';
import { useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import type { ChainRenderer } from '../cascade/chainRenderer.ts';
import { RendererContext, useNewRenderer } from '../cascade/useRenderer.ts';
import { markedOn } from '../chain/playbackSlice.ts';
import { BenchSoundContext, useShown } from '../chain/shownChain.ts';
import type { BlindPair } from '../compare/BlindDialog.tsx';
import { blindId, useWanted } from '../compare/useCandidates.ts';
import { ComparisonContext } from '../compare/comparison.ts';
import { useCompare } from '../compare/useCompare.ts';
import { TraceContext, useMovementTrace } from '../movement/traceContext.ts';
import { stopOthers } from '../parts/othersPlaying.ts';
import { useSubject } from '../parts/useSubject.ts';
import { chainUpTo } from '../playback/heardPart.ts';
import { heardStretch } from '../playback/heardStretch.ts';
import { NOTHING_HEARD, type Playback } from '../playback/playback.ts';
import { PlaybackContext, useNewPlayback } from '../playback/usePlayback.ts';

/** Renders and plays the chain over a sound for all that stands inside. */
export function BenchEngine({ sound, children }: { readonly sound: Sound; readonly children: ReactNode }) {
  const renderer = useNewRenderer();
  const playback = useNewPlayback(renderer);
  if (!renderer || !playback) return null;
  return (
    <BenchSoundContext value={sound}>
      <RendererContext value={renderer}>
        <PlaybackContext value={playback}>
          <Feeding sound={sound} renderer={renderer} playback={playback}>
            {children}
          </Feeding>
        </PlaybackContext>
      </RendererContext>
    </BenchSoundContext>
  );
}

interface FeedingProps {
  readonly sound: Sound;
  readonly renderer: ChainRenderer;
  readonly playback: Playback;
  readonly children: ReactNode;
}

/** Hands every change of the chain to what renders and what plays; what stands inside is not rendered anew for it. */
function Feeding({ sound, renderer, playback, children }: FeedingProps) {
  const document = useShown((chain) => chain);
  const { loop, loopTail, solos, listening, matched } = useAppSelector((state) => state.playback);
  const { region } = useAppSelector((state) => markedOn(state, sound.id));
  const named = useSoundNamesQuery().data;
  useEffect(() => renderer.show(sound, document, named ?? []), [renderer, sound, document, named]);

  const [blind, setBlind] = useState<BlindPair>();
  const row = useSubject(playback, (state) => state.row);
  const heardDocument = useMemo(() => withSolos(document, solos), [document, solos]);
  const stretch = useSubject(renderer, (state) => heardStretch(state, region, loop && !loopTail), sameStretch);
  const compared = useCompare({
    sound,
    renderer,
    work: chainUpTo(heardDocument, row ?? 'result'),
    wanted: useWanted(document, blind),
    stretch: useMemo(() => stretch && { ...stretch, looped: loop }, [stretch, loop]),
    matched: matched || blind !== undefined,
    onFailure: tellCompareFailure,
  });
  const blindReady = [0, 1].every((thing) => compared.isMatched(blindId(thing)));
  // Two unnamed things are heard equally loud or not at all.
  const heard = blind ? (blindReady ? blindId(blind.heard) : NOTHING_HEARD) : listening;
  const gain = compared.gainOf('work');
  // What is compared at equal loudness needs no other level.
  const atLevel = !matched && !blind;
  const others = compared.decks;
  useEffect(
    () => playback.hear({ document: heardDocument, region, loop, loopTail, gain, atLevel, others, heard }),
    [playback, heardDocument, region, loop, loopTail, gain, atLevel, others, heard],
  );

  // One thing sounds at a time.
  const plays = row !== undefined;
  useEffect(() => {
    if (plays) stopOthers();
  }, [plays]);
  useEffect(() => () => stopOthers(), []);

  const trace = useMovementTrace(document);
  const comparison = useMemo(() => ({ compared, blind, setBlind, blindReady }), [compared, blind, blindReady]);
  return (
    <ComparisonContext value={comparison}>
      <TraceContext value={trace}>{children}</TraceContext>
    </ComparisonContext>
  );
}

const sameStretch = (a: ReturnType<typeof heardStretch>, b: ReturnType<typeof heardStretch>) =>
  a === b || (a !== undefined && b !== undefined && a.start === b.start && a.end === b.end);

function tellCompareFailure(text: string): void {
  tellFailure('Cannot compare', text);
}
