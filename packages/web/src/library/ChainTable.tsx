import { Button, HStack, Link, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { Link as RouterLink } from 'react-router';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { DataTable, type Column } from '../parts/DataTable.tsx';
import type { Sorts } from '../parts/useOrder.ts';
import { UnreadableChain } from './UnreadableChain.tsx';

interface Props {
  readonly chains: readonly ChainEntry[];
  readonly total: number;
  readonly onMore: () => void;
  readonly onOpen: (id: string) => void;
}

export const CHAIN_SORTS: Sorts = {
  chain: 'name',
  category: 'category',
  character: 'character',
  tags: 'tags',
  rating: 'rating',
  tempo: 'tempo',
  version: 'version',
};

/** Chains in rows, sorted by any column. */
export function ChainTable({ chains, total, onMore, onOpen }: Props) {
  const columns = useMemo(
    (): readonly Column<ChainEntry>[] => [
      { title: 'chain', fixed: true, cell: nameOf },
      { title: 'category', cell: ({ kind }) => kind },
      {
        title: 'character',
        cell: ({ character }) => character.join(', '),
      },
      {
        title: 'tags',
        cell: ({ tags }) => tags.join(', '),
      },
      {
        title: 'rating',
        figures: true,
        cell: ({ rating }) => (rating > 0 ? `${rating} of 5` : '–'),
      },
      {
        title: 'tempo',
        figures: true,
        cell: ({ tempo }) => `${tempo} bpm`,
      },
      {
        title: 'version',
        figures: true,
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
      total={total}
      onMore={onMore}
      sorts={CHAIN_SORTS}
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
