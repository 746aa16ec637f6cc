import { Button, Flex, HStack, Stack, Text } from '@chakra-ui/react';
import { edits } from '@hexenkessel/core/chain';
import { useEffect } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { auditioned } from '../chain/playbackSlice.ts';
import { edit } from '../chain/edit.ts';
import { Draws } from './Draws.tsx';
import { Morph } from './Morph.tsx';

/** The chain with its settings drawn anew, eight times; and the way between two kept states of it. */
export function VaryTab() {
  const dispatch = useAppDispatch();
  // What is tried out stands in place of this one, and is drawn from it.
  const document = useAppSelector((state) => state.chain.present.document);
  const audition = useAppSelector((state) => state.playback.audition);
  // Leaving the tab, or changing the chain, ends trying out.
  useEffect(() => () => void dispatch(auditioned(null)), [dispatch, document]);
  const take = () => {
    if (!audition) return;
    const { title, document: taken } = audition;
    dispatch(auditioned(null));
    dispatch(edit(edits.replaceChain(title, taken)));
  };
  return (
    <Stack gap="3" height="100%" minHeight="0" overflowY="auto" pr="1" fontSize="sm">
      <Draws document={document} />
      <Morph document={document} />
      <Flex
        align="center"
        justify="space-between"
        position="sticky"
        bottom="0"
        bg="sheet"
        borderTopWidth="1px"
        borderColor="rule"
        py="2"
        aria-live="polite"
      >
        <Text>{audition ? `You hear and see ${audition.title}.` : 'You hear the chain as it is.'}</Text>
        <HStack>
          <Button
            size="xs"
            variant="outline"
            borderColor="rule"
            disabled={!audition}
            onClick={() => dispatch(auditioned(null))}
          >
            Discard
          </Button>
          <Button size="xs" colorPalette="copperInk" disabled={!audition} onClick={take}>
            Apply
          </Button>
        </HStack>
      </Flex>
    </Stack>
  );
}
