import { Box, Link, Stack, Text } from '@chakra-ui/react';
import { Link as RouterLink } from 'react-router';
import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundFamilyQuery } from '../api/api.ts';
import { branchesOf, type FamilyNode } from './familyTree.ts';

/** The whole family of a sound: what it came from and all that came of that. */
export function Family({ sound }: { readonly sound: Sound }) {
  const { currentData: all = [sound] } = useSoundFamilyQuery(sound.id);
  const tree = branchesOf(all).find((node) => holds(node, sound.id));
  if (!tree) return null;
  return (
    <Stack as="section" aria-label="Lineage" gap="1">
      <Text fontFamily="heading" fontSize="lg">
        Lineage
      </Text>
      <Box role="tree" aria-label="Lineage of the sound">
        <Branch node={tree} chosen={sound.id} />
      </Box>
    </Stack>
  );
}

function holds(node: FamilyNode, id: string): boolean {
  return node.sound.id === id || node.children.some((child) => holds(child, id));
}

/** A sound and, stood in under it, the renders that were made of it. */
export function Branch({
  node,
  chosen,
  depth = 0,
}: {
  readonly node: FamilyNode;
  readonly chosen?: string;
  readonly depth?: number;
}) {
  const { sound, children } = node;
  return (
    <Box role="treeitem" aria-level={depth + 1} aria-selected={sound.id === chosen}>
      <Box
        display="flex"
        gap="2"
        alignItems="baseline"
        py="0.5"
        pl={`${depth * 22 + 8}px`}
        borderBottomWidth="1px"
        borderColor="rule"
        bg={sound.id === chosen ? 'shade' : 'transparent'}
      >
        {depth > 0 && (
          <Text as="span" color="faded" aria-hidden fontFamily="mono">
            └
          </Text>
        )}
        <Link asChild color={sound.missing ? 'alarm' : 'ink'} fontWeight={sound.id === chosen ? '700' : '600'}>
          <RouterLink to={`/sounds/${sound.id}`}>{sound.name}</RouterLink>
        </Link>
        <Text fontSize="xs" color="faded">
          {sound.lineage
            ? `${sound.lineage.chainName}, ${sound.lineage.version}${sound.lineage.region ? ', of a region' : ''}${sound.sealed ? ', sealed' : ''}`
            : sound.mixed
              ? `mix of ${sound.mixed.parts.length} sounds`
              : 'source'}
          {sound.missing && ' · file missing'}
        </Text>
      </Box>
      {children.length > 0 && (
        <Box role="group">
          {children.map((child) => (
            <Branch key={child.sound.id} node={child} depth={depth + 1} {...(chosen === undefined ? {} : { chosen })} />
          ))}
        </Box>
      )}
    </Box>
  );
}
