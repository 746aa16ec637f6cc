import { Box, Button, Text } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import type { Sound } from '@hexenkessel/core/protocol';
import { Branch } from './Family.tsx';
import { branchesOf } from './familyTree.ts';

/** Families that are drawn before one asks for more. */
const AT_ONCE = 200;

interface Props {
  readonly sounds: readonly Sound[];
  readonly hasMore: boolean;
  readonly onMore: () => void;
}

/** Sounds under those that they were made from; a family is whole once all sounds have come. */
export function Lineages({ sounds, hasMore, onMore }: Props) {
  const [most, setMost] = useState(AT_ONCE);
  useEffect(() => {
    if (hasMore) onMore();
  }, [hasMore, onMore]);
  const families = useMemo(
    () => (hasMore ? [] : branchesOf(sounds).filter(({ sound }) => sound.kind !== 'signal')),
    [sounds, hasMore],
  );
  if (hasMore)
    return (
      <Text p="4" role="status">
        {sounds.length} sounds have come …
      </Text>
    );
  return (
    <>
      <Box role="tree" aria-label="Lineages of sounds">
        {families.slice(0, most).map((node) => (
          <Branch key={node.sound.id} node={node} />
        ))}
      </Box>
      {families.length > most && (
        <Button m="2" size="xs" variant="outline" borderColor="rule" onClick={() => setMost(most + AT_ONCE)}>
          Show more of {families.length}
        </Button>
      )}
    </>
  );
}
