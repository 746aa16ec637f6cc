import { Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import { planStages } from '@hexenkessel/core/engine';
import { useAppSelector } from '../app/store.ts';
import { useRendered } from '../cascade/useRenderer.ts';
import { markedOn } from '../chain/playbackSlice.ts';
import { useShownSound } from '../chain/shownChain.ts';

interface Props {
  readonly stage: StageDocument;
  readonly document: ChainDocument;
  /** Of what goes into it. */
  readonly frames: number | undefined;
}

/** What follows from the values of a whole-clip stage for the sound at hand, or for the region that gets rendered. */
export function StageSays({ stage, document, frames }: Props) {
  const sound = useShownSound();
  const sampleRate = useRendered((state) => state.sampleRate);
  const { region, whole } = useAppSelector((state) => markedOn(state, sound.id));
  const part = region && !whole ? Math.round((region.end - region.start) * sampleRate) : frames;
  const text = useMemo(() => {
    const definition = BUILT_INS.for(document).of(stage);
    if (part === undefined || definition.runs === 'live' || !definition.says) return undefined;
    const [planned] = planStages(BUILT_INS, { ...document, stages: [{ ...stage, on: true }] }, sampleRate);
    return definition.says(planned.values, part, sampleRate);
  }, [document, stage, part, sampleRate]);
  if (text === undefined) return null;
  return (
    <Text fontSize="sm" color="copper" role="status" data-testid="stage-says">
      {text}
    </Text>
  );
}
