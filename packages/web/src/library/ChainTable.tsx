import { Button, HStack, Link, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { Link as RouterLink } from 'react-router';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { DataTable, type Column } from '../parts/DataTable.tsx';
import { UnreadableChain } from './UnreadableChain.tsx';

/** Chains in rows, sorted by any column. */
export function ChainTable({
  chains,
  onOpen,
}: {
  readonly chains: readonly ChainEntry[];
  readonly onOpen: (id: string) => void;
}) {
  const columns = useMemo(
    (): readonly Column<ChainEntry>[] => [
      { title: 'chain', fixed: true, value: ({ name }) => name.toLowerCase(), cell: nameOf },
      { title: 'category', value: ({ kind }) => kind, cell: ({ kind }) => kind },
      {
        title: 'character',
        value: ({ character }) => character.join(', '),
        cell: ({ character }) => character.join(', '),
      },
      {
        title: 'tags',
        value: ({ tags }) => tags.join(', '),
        cell: ({ tags }) => tags.join(', '),
      },
      {
        title: 'rating',
        figures: true,
        value: ({ rating }) => rating,
        cell: ({ rating }) => (rating > 0 ? `${rating} of 5` : '–'),
      },
      {
        title: 'tempo',
        figures: true,
        value: ({ tempo }) => tempo,
        cell: ({ tempo }) => `${tempo} bpm`,
      },
      {
        title: 'version',
        figures: true,
        value: ({ version }) => version ?? 0,
        cell: ({ version, unsaved }) => `${version ?? '–'}${unsaved ? ' + draft' : ''}`,
      },
      {
        title: 'open',
        fixed: true,
        cell: ({ id, name }) => (
          <HStack>
            <Button size="xs" colorPalette="copperInk" onClick={() => onOpen(id)} aria-label={`Open ${name}`}>
              Open
            </Button>
            <Link asChild fontSize="sm" color="copper">
              <RouterLink to={`/sheet/${id}`} aria-label={`Sheet of ${name}`}>
                Sheet
              </RouterLink>
            </Link>
          </HStack>
        ),
      },
    ],
    [onOpen],
  );
  return (
    <DataTable
      name="chains"
      rows={chains}
      columns={columns}
      idOf={({ id }) => id}
      whole={(chain, count) =>
        chain.fault === null ? undefined : <UnreadableChain key={chain.id} chain={chain} columns={count} />
      }
    />
  );
}

const nameOf = ({ name, summary, stages }: ChainEntry) => (
  <>
    <Text fontFamily="heading" fontSize="lg">
      {name}
    </Text>
    <Text fontSize="sm">{summary}</Text>
    <Text fontSize="sm" color="faded">
      {stages.join(' → ') || 'no stages yet'}
    </Text>
  </>
);
