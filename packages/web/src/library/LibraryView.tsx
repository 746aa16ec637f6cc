import { Box, Button, Flex, HStack, Heading, Input, Text } from '@chakra-ui/react';
import { useCallback } from 'react';
import { useNavigate } from 'react-router';
import { useChainPagesInfiniteQuery, useSoundNamesQuery } from '../api/api.ts';
import { useBeginChain } from '../chain/beginChain.ts';
import { Choice } from '../parts/Choice.tsx';
import { QueryState } from '../parts/QueryState.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { useAllPages } from '../parts/useAllPages.ts';
import { useOrder } from '../parts/useOrder.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { CHAIN_SORTS, ChainTable } from './ChainTable.tsx';
import { ImportChain } from './ImportChain.tsx';

/** Every chain, found by what it is called, does and sounds like, and put on a sound in one step. */
export function LibraryView() {
  const navigate = useNavigate();
  const [text, setText] = useKeptInAddress('find');
  const { asked: sort } = useOrder(CHAIN_SORTS);
  const chains = useAllPages(useChainPagesInfiniteQuery({ sort, find: text }));
  const sounds = useSoundNamesQuery();
  const begin = useBeginChain();
  const [soundId, setSoundId] = useKeptInAddress('sound');
  const sources = sounds.data ?? [];
  usePageTitle('Library');
  const open = useCallback(
    (id: string) => void navigate(`/bench/${id}${soundId ? `?sound=${soundId}` : ''}`),
    [navigate, soundId],
  );
  return (
    <Flex direction="column" height="100%" px={{ base: '3', md: '6' }} py="4" minHeight="0" data-print="whole">
      <Flex align="end" gap="4" mb="3" wrap="wrap">
        <Heading as="h1" size="2xl">
          Library
        </Heading>
        <Input
          size="sm"
          width="280px"
          placeholder="name, category, character, tag, stage …"
          data-print="never"
          aria-label="Find chains"
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <HStack data-print="never">
          <Text color="faded">open with sound</Text>
          <Choice
            label="Sound to open with"
            value={soundId}
            options={[['', 'the one it was made on'], ...sources.map(({ id, name }) => [id, name] as const)]}
            onChange={setSoundId}
            width="220px"
          />
        </HStack>
        <Flex flex="1" />
        <ImportChain onImported={open} />
        <Button size="sm" variant="outline" borderColor="rule" onClick={() => begin(soundId || undefined)}>
          New chain
        </Button>
      </Flex>
      <Box flex="1" minHeight="0" overflow="auto" data-print="whole">
        <QueryState query={chains} what="the chains">
          {({ items, total }) =>
            total === 0 ? (
              <Text p="4">No chain matches. Clear the search, or create a new chain.</Text>
            ) : (
              <ChainTable chains={items} total={total} onMore={chains.more} onOpen={open} />
            )
          }
        </QueryState>
      </Box>
    </Flex>
  );
}
