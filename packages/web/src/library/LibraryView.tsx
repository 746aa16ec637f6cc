import { Box, Button, Flex, HStack, Heading, Input, Link, Table, Text } from '@chakra-ui/react';
import { Link as RouterLink, useNavigate } from 'react-router';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { useChainsQuery, useSoundsQuery } from '../api/api.ts';
import { useBeginChain } from '../chain/beginChain.ts';
import { Choice } from '../parts/Choice.tsx';
import { QueryState } from '../parts/QueryState.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { ImportChain } from './ImportChain.tsx';
import { UnreadableChain } from './UnreadableChain.tsx';

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
  const open = (id: string) => void navigate(`/bench/${id}${soundId ? `?sound=${soundId}` : ''}`);
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
          aria-label="Find chains"
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <HStack>
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
          {(all) => <ChainTable chains={all.filter((chain) => fits(chain, text))} onOpen={open} />}
        </QueryState>
      </Box>
    </Flex>
  );
}

const COLUMNS = ['chain', 'category', 'character', 'tags', 'rating', 'tempo', 'version', 'open'];

function ChainTable({ chains, onOpen }: { chains: readonly ChainEntry[]; onOpen: (id: string) => void }) {
  if (chains.length === 0) return <Text p="4">No chain matches. Clear the search, or create a new chain.</Text>;
  return (
    <Table.Root size="sm" variant="line" stickyHeader>
      <Table.Header>
        <Table.Row bg="paper">
          {COLUMNS.map((title) => (
            <Table.ColumnHeader key={title} color="faded">
              {title}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {chains.map((chain) =>
          chain.fault !== null ? (
            <UnreadableChain key={chain.id} chain={chain} columns={COLUMNS.length} />
          ) : (
            <Table.Row key={chain.id} bg="transparent">
              <Table.Cell>
                <Text fontFamily="heading" fontSize="lg">
                  {chain.name}
                </Text>
                <Text fontSize="sm">{chain.summary}</Text>
                <Text fontSize="sm" color="faded">
                  {chain.stages.join(' → ') || 'no stages yet'}
                </Text>
              </Table.Cell>
              <Table.Cell>{chain.kind}</Table.Cell>
              <Table.Cell>{chain.character.join(', ')}</Table.Cell>
              <Table.Cell>{chain.tags.join(', ')}</Table.Cell>
              <Table.Cell fontFamily="mono" whiteSpace="nowrap" aria-label={`${chain.rating} of 5`}>
                {chain.rating > 0 ? `${chain.rating} of 5` : '–'}
              </Table.Cell>
              <Table.Cell fontFamily="mono" whiteSpace="nowrap">
                {chain.tempo} bpm
              </Table.Cell>
              <Table.Cell fontFamily="mono" whiteSpace="nowrap">
                {chain.version ?? '–'}
                {chain.unsaved ? ' + draft' : ''}
              </Table.Cell>
              <Table.Cell>
                <HStack>
                  <Button
                    size="xs"
                    colorPalette="copperInk"
                    onClick={() => onOpen(chain.id)}
                    aria-label={`Open ${chain.name}`}
                  >
                    Open
                  </Button>
                  <Link asChild fontSize="sm" color="copper">
                    <RouterLink to={`/sheet/${chain.id}`} aria-label={`Sheet of ${chain.name}`}>
                      Sheet
                    </RouterLink>
                  </Link>
                </HStack>
              </Table.Cell>
            </Table.Row>
          ),
        )}
      </Table.Body>
    </Table.Root>
  );
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
