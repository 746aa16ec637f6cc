import { Box, Button, Flex, HStack, Heading, Input, Text } from '@chakra-ui/react';
import { useCallback, useMemo } from 'react';
import { useNavigate } from 'react-router';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { useChainsQuery, useSoundsQuery } from '../api/api.ts';
import { useBeginChain } from '../chain/beginChain.ts';
import { Choice } from '../parts/Choice.tsx';
import { QueryState } from '../parts/QueryState.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { ChainTable } from './ChainTable.tsx';
import { ImportChain } from './ImportChain.tsx';

/** Every chain, found by what it is called, does and sounds like, and put on a sound in one step. */
export function LibraryView() {
  const navigate = useNavigate();
  const chains = useChainsQuery();
  const sounds = useSoundsQuery();
  const begin = useBeginChain();
  const [text, setText] = useKeptInAddress('find');
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
          {(all) => <Found chains={all} text={text} onOpen={open} />}
        </QueryState>
      </Box>
    </Flex>
  );
}

interface FoundProps {
  readonly chains: readonly ChainEntry[];
  readonly text: string;
  readonly onOpen: (id: string) => void;
}

function Found({ chains, text, onOpen }: FoundProps) {
  const found = useMemo(() => chains.filter((chain) => fits(chain, text)), [chains, text]);
  if (found.length === 0) return <Text p="4">No chain matches. Clear the search, or create a new chain.</Text>;
  return <ChainTable chains={found} onOpen={onOpen} />;
}

/** Every word typed must begin a word of what the chain is called, is or does. */
function fits(chain: ChainEntry, text: string): boolean {
  const words = [chain.name, chain.summary, chain.kind, ...chain.character, ...chain.tags, ...chain.contains]
    .join(' ')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u);
  return text
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((typed) => words.some((word) => word.startsWith(typed)));
}
