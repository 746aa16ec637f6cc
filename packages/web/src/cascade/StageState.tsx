import { Text } from '@chakra-ui/react';
import { isMeant, soundFault } from '@hexenkessel/core/engine';
import type { StageDocument } from '@hexenkessel/core/chain';
import { useSoundNamesQuery } from '../api/api.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';
import { StageMeter } from '../playback/StageMeter.tsx';
import { costText } from './StageControls.tsx';
import { useRendered } from './useRenderer.ts';

/** Under a stage's name: that a sound it names is missing, or how loud it is and what it costs. */
export function StageState({ stage }: { readonly stage: StageDocument }) {
  const catalogue = useCatalogue();
  const { data: sounds } = useSoundNamesQuery();
  const rendering = useRendered(({ costs }) => {
    const cost = costs[`stage:${stage.id}`];
    return cost ? costText(cost) : '';
  });
  // Until the list is there nothing is called missing.
  const fault = sounds && soundFault(catalogue, stage, (ref) => sounds.some((known) => isMeant(ref, known)));
  if (fault === undefined) return <StageMeter stageId={stage.id} rendering={rendering} />;
  return (
    <Text fontSize="11px" lineHeight="12px" color="alarm" truncate title={fault} data-fault>
      {fault}
    </Text>
  );
}
