import { Button, Grid, Stack, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { InputError, barSeconds, parseTime, printTime, resolveTime, showSeconds } from '@hexenkessel/core/model';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useChainQuery, useChainNamesQuery, useRendersQuery, useStartRenderMutation } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { renderPlanOf, type RenderPlan } from '../bench/renderPlan.ts';
import { useSavesSettled } from '../chain/useChainWork.ts';
import { UNMARKED, type Marked } from '../chain/playbackSlice.ts';
import { regionBetween } from '../chain/region.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { soundPlayer } from './soundPlayer.ts';

/** Renders several sounds through one chain, each on its own: whole, or all over the same region, put back each into its own copy. */
export function RenderSounds({
  sounds: given,
  onClose,
}: {
  readonly sounds: readonly Sound[];
  readonly onClose: () => void;
}) {
  const [left, setLeft] = useState<readonly Sound[]>();
  const sounds = left ?? given;
  const { data: chains = [] } = useChainNamesQuery();
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
  const [marked, setMarked] = useState<Marked>(UNMARKED);
  /** With another range what was rendered before is another render: all of them are asked for again. */
  const remark = (next: Marked) => {
    setMarked(next);
    setLeft(undefined);
  };
  const first = useFirstHeard(chainId);
  const plans = chain ? sounds.map((sound) => renderPlanOf(chain.document, sound, marked)) : [];
  const seconds = plans.reduce((sum, { told }) => sum + (told?.seconds ?? 0), 0);
  const possible = chain ? sounds.filter((sound, n) => !sound.missing && plans[n].refusal === undefined) : [];
  const orderOf = (sound: Sound, revision: number) => {
    const region = plans[sounds.indexOf(sound)]?.asked;
    return { sourceId: sound.id, chainId, revision, ...(region && { region }) };
  };
  const hearFirst = async () => {
    if (!chain) return;
    setBusy(true);
    const [sound, ...others] = possible;
    const result = await start(orderOf(sound, chain.revision));
    setBusy(false);
    if ('error' in result) tellFailure(`${sound.name} is not rendered`, problemOf(result.error).detail);
    else {
      first.listenTo(result.data.id);
      setLeft(others);
    }
  };
  const render = async () => {
    if (!chain) return;
    setBusy(true);
    let begun = 0;
    for (const sound of possible) {
      const result = await start(orderOf(sound, chain.revision));
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
        <>
          {given.length > 1 && left === undefined && (
            <Button
              size="sm"
              variant="outline"
              borderColor="rule"
              disabled={possible.length === 0 || busy}
              onClick={() => void hearFirst()}
            >
              Render and hear the first
            </Button>
          )}
          <Button
            size="sm"
            colorPalette="copperInk"
            disabled={possible.length === 0}
            loading={busy}
            onClick={() => void render()}
          >
            Render {possible.length}
          </Button>
        </>
      }
    >
      <Stack gap="3">
        <Choice
          label="Chain"
          value={chainId}
          options={chains.map(({ id, name }) => [id, name] as const)}
          onChange={(id) => {
            setPicked(id);
            setLeft(undefined);
          }}
        />
        {chain && <SameRegion marked={marked} document={chain.document} onMarked={remark} />}
        {first.text !== undefined && (
          <Text fontSize="sm" role="status" color="copper">
            {first.text}
          </Text>
        )}
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

interface SameRegionProps {
  readonly marked: Marked;
  readonly document: ChainDocument;
  readonly onMarked: (marked: Marked) => void;
}

/** Whether all of each sound is rendered, or the same part of all of them. */
function SameRegion({ marked, document: { timing, render }, onMarked }: SameRegionProps) {
  const { region, whole } = marked;
  const { start, end } = region ?? { start: 0, end: barSeconds(timing) };
  const place = (text: string) => {
    const seconds = resolveTime(parseTime(text, timing.meter), timing, 48000);
    if (seconds < 0) throw new InputError(`${text} lies before the sounds begin; 0 s or more is allowed.`);
    return seconds;
  };
  const set = (one: number, other: number) => onMarked({ whole: false, region: regionBetween(one, other) });
  return (
    <Grid templateColumns="72px 1fr 1fr" gap="2" alignItems="center" fontSize="sm">
      <Text>range</Text>
      <Choice
        label="Range"
        value={whole ? 'whole' : 'region'}
        options={[
          ['whole', 'whole sounds'],
          ['region', 'the same region of each'],
        ]}
        gridColumn="2 / 4"
        onChange={(what) => onMarked({ whole: what === 'whole', region: region ?? { start, end } })}
      />
      {!whole && (
        <>
          <Text>from, to</Text>
          <TypedValue
            label="Region start"
            text={printTime(Number(start.toFixed(4)))}
            borderColor="rule"
            onCommit={(text) => set(place(text), end)}
          />
          <TypedValue
            label="Region end"
            text={printTime(Number(end.toFixed(4)))}
            borderColor="rule"
            onCommit={(text) => set(start, place(text))}
          />
          <Text gridColumn="2 / 4" color="faded" fontSize="xs">
            {render.region.splice
              ? 'Each render is put back into a copy of its own sound: stems stay apart and as long as they were.'
              : 'Each region becomes a clip of its own: the chain does not put regions back.'}
          </Text>
        </>
      )}
    </Grid>
  );
}

/** A render that is played as soon as it is done. */
function useFirstHeard(chain: string) {
  const [renderId, setRenderId] = useState<string>();
  const { data } = useRendersQuery({ chain }, { skip: chain === '' });
  const entry = data?.find(({ id }) => id === renderId);
  const soundId = entry?.soundId;
  useEffect(() => {
    if (soundId) soundPlayer.play(soundId);
  }, [soundId]);
  const text =
    renderId === undefined
      ? undefined
      : entry?.status === 'failed'
        ? 'The first could not be rendered.'
        : soundId
          ? 'You hear the first. Render the others, or close and change the chain.'
          : 'The first is being rendered …';
  return { text, listenTo: setRenderId };
}

/** How long a render of a sound gets, or why there is none. A copy with a region put back stays as long as it was. */
function lengthText({ missing, frames, sampleRate }: Sound, plan: RenderPlan | undefined): string {
  if (missing) return 'file missing';
  if (plan?.told && plan.asked?.splice) return showSeconds(frames / sampleRate);
  if (plan?.told) return `up to ${showSeconds(plan.told.frames / sampleRate)}`;
  return plan?.refusal ?? '…';
}

const begunText = (begun: number) => `${begun} ${begun === 1 ? 'render' : 'renders'} begun.`;
