import { Box, Grid, Text } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { morphed, type ChainDocument } from '@hexenkessel/core/chain';
import { SLOTS } from '@hexenkessel/core/protocol';
import { problemOf, useLazyVersionQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { auditioned } from '../chain/playbackSlice.ts';
import { filledSlots, slotTitle } from '../chain/slots.ts';
import { Scale } from '../parameters/Scale.tsx';
import { Choice } from '../parts/Choice.tsx';

/** The way from one kept state to another: slots, versions, and the chain as it is. */
export function Morph({ document }: { readonly document: ChainDocument }) {
  const dispatch = useAppDispatch();
  const { versions, chainId } = useAppSelector((state) => state.server);
  const work = useAppSelector((state) => state.chain.present);
  const [fetchVersion] = useLazyVersionQuery();
  const ends = useMemo(() => {
    const slots = filledSlots(work);
    return [
      ...SLOTS.flatMap((letter) => {
        const slot = slots[letter];
        return slot ? [{ key: `slot ${letter}`, title: slotTitle(letter, slot), document: slot.document }] : [];
      }),
      ...versions.map(({ number }) => ({ key: `version ${number}`, title: `version ${number}`, document: undefined })),
    ];
  }, [work, versions]);
  const [from, setFrom] = useState(ends[0]?.key ?? '');
  const [to, setTo] = useState(ends[1]?.key ?? ends[0]?.key ?? '');
  const [share, setShare] = useState(0.5);
  const [kept, setKept] = useState<Readonly<Record<string, ChainDocument>>>({});
  const documentOf = async (key: string): Promise<ChainDocument | undefined> => {
    const end = ends.find((one) => one.key === key);
    if (end?.document) return end.document;
    if (kept[key]) return kept[key];
    if (chainId === null) return undefined;
    const result = await fetchVersion({ id: chainId, number: Number(key.replace('version ', '')) }, true);
    if (!result.data) {
      tellFailure(`${key} could not be opened`, problemOf(result.error).detail);
      return undefined;
    }
    const { data } = result;
    setKept((before) => ({ ...before, [key]: data }));
    return data;
  };
  const go = async (place: number) => {
    const bounded = Math.max(0, Math.min(1, Math.round(100 * place) / 100));
    setShare(bounded);
    const [first, second] = [await documentOf(from), await documentOf(to)];
    if (!first || !second) return;
    const title = `${Math.round(100 * bounded)} % of the way from ${from} to ${to}`;
    dispatch(auditioned({ title, document: { ...morphed(BUILT_INS, first, second, bounded), name: document.name } }));
  };
  if (ends.length < 2)
    return (
      <Text color="faded">
        To morph between two states of the chain, put settings into another slot (Shift+2 …) or save a version.
      </Text>
    );
  const options = ends.map(({ key, title }) => [key, title] as const);
  return (
    <Box>
      <Text fontFamily="heading" mb="1">
        Morph
      </Text>
      <Grid templateColumns="1fr 28px 1fr" gap="1" alignItems="center">
        <Choice label="From" value={from} options={options} onChange={setFrom} />
        <Text textAlign="center">to</Text>
        <Choice label="To" value={to} options={options} onChange={setTo} />
      </Grid>
      <Grid templateColumns="1fr 56px" gap="2" alignItems="center" mt="1">
        <Scale
          label="Morph amount"
          place={share}
          defaultPlace={0.5}
          min={0}
          max={100}
          now={100 * share}
          text={`${Math.round(100 * share)} %`}
          onPlace={(place) => void go(place)}
          onStep={(steps) => void go(share + steps / 100)}
          onDefault={() => void go(0.5)}
        />
        <Text fontFamily="mono" textAlign="end">
          {Math.round(100 * share)} %
        </Text>
      </Grid>
    </Box>
  );
}
