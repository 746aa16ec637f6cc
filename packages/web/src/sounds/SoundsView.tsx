import { Box, Flex, Heading, Link, Stack, Table, Text } from '@chakra-ui/react';
import { Link as RouterLink } from 'react-router';
import { showLevel, showOffset, showSeconds, showTimeOfDay, timeReferenceOf, type Sound } from '@hexenkessel/core';
import { useRendersQuery, useSoundsQuery } from '../api/api.ts';
import { QueryState } from '../parts/QueryState.tsx';
import { DropSound } from './DropSound.tsx';
import { DownloadWav, RenderEntry } from './RenderEntry.tsx';

/** All sounds: sources and renders, and which chain made what out of what. */
export function SoundsView() {
  const sounds = useSoundsQuery();
  const renders = useRendersQuery();
  const unfinished = (renders.data ?? []).filter(({ status }) => status !== 'done').slice(0, 6);
  return (
    <Flex direction="column" height="100%" px="6" py="4" gap="3" minHeight="0">
      <Heading as="h1" size="2xl">
        Sounds
      </Heading>
      <DropSound slim />
      {unfinished.length > 0 && (
        <Stack as="section" aria-label="Renders that are not done" gap="0">
          {unfinished.map((render) => (
            <RenderEntry key={render.id} render={render} />
          ))}
        </Stack>
      )}
      <Box flex="1" minHeight="0" overflow="auto">
        <QueryState query={sounds} what="the sounds">
          {(all) => <SoundTable sounds={all} />}
        </QueryState>
      </Box>
    </Flex>
  );
}

function SoundTable({ sounds }: { sounds: readonly Sound[] }) {
  return (
    <Table.Root size="sm" variant="line" stickyHeader>
      <Table.Header>
        <Table.Row bg="paper">
          {['sound', 'made from', 'length', 'format', 'peak', 'loudness', 'place', ''].map((title) => (
            <Table.ColumnHeader key={title} color="faded">
              {title}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body fontVariantNumeric="tabular-nums">
        {sounds.map((sound) => (
          <Table.Row key={sound.id} bg="transparent">
            <Table.Cell fontWeight="600">{sound.name}</Table.Cell>
            <Table.Cell>
              {sound.lineage ? (
                <>
                  {sound.lineage.sourceName} with{' '}
                  <Link asChild color="copper">
                    <RouterLink to={`/bench/${sound.lineage.chainId}?sound=${sound.lineage.sourceId}`}>
                      {sound.lineage.chainName}
                    </RouterLink>
                  </Link>
                  , {sound.lineage.version}
                </>
              ) : (
                <Text color="faded">source</Text>
              )}
            </Table.Cell>
            <Table.Cell fontFamily="mono" whiteSpace="nowrap">
              {showSeconds(sound.frames / sound.sampleRate)}
            </Table.Cell>
            <Table.Cell fontFamily="mono" whiteSpace="nowrap">
              {sound.channels} × {sound.format} {sound.sampleRate / 1000} kHz
            </Table.Cell>
            <Table.Cell fontFamily="mono" whiteSpace="nowrap">
              {showLevel(sound.peak ?? -Infinity)}
            </Table.Cell>
            <Table.Cell fontFamily="mono" whiteSpace="nowrap">
              {sound.loudness === null ? 'silent' : `${sound.loudness.toFixed(1)} LUFS`}
            </Table.Cell>
            <Table.Cell fontFamily="mono" whiteSpace="nowrap" color={sound.timeReference === null ? 'faded' : 'ink'}>
              {showTimeOfDay(timeReferenceOf(sound.timeReference, sound.sampleRate), sound.sampleRate)}
              {sound.timeReference === null ? ' assumed' : ''}
              {sound.kind === 'render' && (
                <Text color="faded" fontSize="xs">
                  {showOffset(sound)}
                </Text>
              )}
            </Table.Cell>
            <Table.Cell>
              <DownloadWav soundId={sound.id} name={sound.name} />
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
