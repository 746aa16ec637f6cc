import { Button, Grid, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { showSeconds } from '@hexenkessel/core/model';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useChainQuery, useChainsQuery, useStartRenderMutation } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { renderPlanOf, type RenderPlan } from '../bench/renderPlan.ts';
import { useSavesSettled } from '../chain/useChainWork.ts';
import { Choice } from '../parts/Choice.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';

/** Renders several sounds through one chain, each on its own. */
export function RenderSounds({
  sounds: given,
  onClose,
}: {
  readonly sounds: readonly Sound[];
  readonly onClose: () => void;
}) {
  const [left, setLeft] = useState<readonly Sound[]>();
  const sounds = left ?? given;
  const { data = [] } = useChainsQuery();
  const chains = data.filter(({ fault }) => fault === null);
  const [picked, setPicked] = useState<string>();
  const chainId = picked ?? chains[0]?.id ?? '';
  const settled = useSavesSettled(chainId);
  const { currentData, isFetching, error, refetch } = useChainQuery(chainId, {
    skip: chainId === '' || !settled,
    refetchOnMountOrArgChange: true,
  });
  const chain = isFetching ? undefined : currentData;
  const [start] = useStartRenderMutation();
  const [busy, setBusy] = useState(false);
  const plans = chain ? sounds.map((sound) => renderPlanOf(chain.document, sound)) : [];
  const seconds = plans.reduce((sum, { told }) => sum + (told?.seconds ?? 0), 0);
  const possible = chain ? sounds.filter((sound, n) => !sound.missing && plans[n].refusal === undefined) : [];
  const render = async () => {
    if (!chain) return;
    setBusy(true);
    let begun = 0;
    for (const sound of possible) {
      const result = await start({ sourceId: sound.id, chainId, revision: chain.revision });
      if (!('error' in result)) {
        begun += 1;
        continue;
      }
      const { current, detail } = problemOf(result.error);
      if (current) {
        // All of them, or those that are left, with the chain as it is by now: but not unseen.
        tellFailure(
          `${chain.document.name} was changed meanwhile`,
          `${begunText(begun)} The chain is shown as it is now.`,
        );
        setLeft(possible.slice(possible.indexOf(sound)));
        setBusy(false);
        void refetch();
        return;
      }
      tellFailure(`${sound.name} is not rendered`, detail);
    }
    if (begun > 0) tellDone(begunText(begun), 'Each becomes a sound of its own.');
    onClose();
  };
  return (
    <PlainDialog
      title={`Render ${sounds.length === 1 ? sounds[0].name : `${sounds.length} sounds`} through a chain`}
      onClose={onClose}
      footer={
        <Button
          size="sm"
          colorPalette="copperInk"
          disabled={possible.length === 0}
          loading={busy}
          onClick={() => void render()}
        >
          Render {possible.length}
        </Button>
      }
    >
      <Stack gap="3">
        <Choice
          label="Chain"
          value={chainId}
          options={chains.map(({ id, name }) => [id, name] as const)}
          onChange={setPicked}
        />
        <Text fontSize="sm">
          {seconds < 1 ? 'Takes a moment.' : `Takes about ${showSeconds(Math.round(seconds))} in all.`} Every sound is
          rendered on its own, with the chain as it is now.
        </Text>
        {error !== undefined && (
          <Text role="alert" fontSize="sm" color="alarm">
            {problemOf(error).detail}
          </Text>
        )}
        <Grid templateColumns="1fr auto" fontSize="sm" columnGap="3" maxHeight="40vh" overflowY="auto">
          {sounds.map((sound, n) => (
            <Text key={sound.id} display="contents">
              <Text as="span">{sound.name}</Text>
              <Text
                as="span"
                color={plans[n]?.refusal || sound.missing ? 'alarm' : 'faded'}
                fontFamily="mono"
                fontSize="xs"
              >
                {lengthText(sound, plans[n])}
              </Text>
            </Text>
          ))}
        </Grid>
      </Stack>
    </PlainDialog>
  );
}

/** How long a render of a sound gets, or why there is none. */
function lengthText({ missing, sampleRate }: Sound, plan: RenderPlan | undefined): string {
  if (missing) return 'file missing';
  if (plan?.told) return `up to ${showSeconds(plan.told.frames / sampleRate)}`;
  return plan?.refusal ?? '…';
}

const begunText = (begun: number) => `${begun} ${begun === 1 ? 'render' : 'renders'} begun.`;
