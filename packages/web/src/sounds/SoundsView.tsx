import { Box, Button, Flex, Heading, HStack, Input, Stack, Text } from '@chakra-ui/react';
import { FileArchive, FlaskConical, Layers, ListTree, Table2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Sound } from '@hexenkessel/core/protocol';
import { useRendersQuery, useSoundsQuery } from '../api/api.ts';
import { QueryState } from '../parts/QueryState.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { DropSound } from './DropSound.tsx';
import { ExportSounds } from './ExportSounds.tsx';
import { Branch } from './Family.tsx';
import { branchesOf } from './familyTree.ts';
import { usePlayKey } from './PlaySound.tsx';
import { MixSounds } from './MixSounds.tsx';
import { RenderEntry } from './RenderEntry.tsx';
import { RenderSounds } from './RenderSounds.tsx';
import { SoundTable } from './SoundTable.tsx';
import { StorageLine } from './StorageLine.tsx';
import { TakingChoice } from './TakingChoice.tsx';
import type { TakingHow } from './useTakeSound.ts';

/** All sounds: sources and renders, as a table or by lineage; several at once are rendered or exported. */
export function SoundsView() {
  const sounds = useSoundsQuery();
  const renders = useRendersQuery();
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [shown, setShown] = useKeptInAddress('as');
  const asTree = shown === 'lineage';
  const [words, setWords] = useKeptInAddress('find');
  usePageTitle('Sounds');
  const [how, setHow] = useState<TakingHow>({});
  const [dialog, setDialog] = useState<'render' | 'mix' | 'export'>();
  const unfinished = (renders.data ?? []).filter(({ status }) => status !== 'done').slice(0, 6);
  const asked = search.get('render');
  const picked = asked === null ? chosen : [asked];
  const close = () => {
    setDialog(undefined);
    if (asked !== null) setSearch((before) => (before.delete('render'), before), { replace: true });
  };
  return (
    <Flex
      direction="column"
      height="100%"
      px={{ base: '3', md: '6' }}
      py="4"
      gap="3"
      minHeight="0"
      overflowY={{ base: 'auto', md: 'visible' }}
      data-print="whole"
    >
      <HStack justify="space-between" wrap="wrap">
        <Heading as="h1" size="2xl">
          Sounds
        </Heading>
        <HStack wrap="wrap">
          <Input
            size="sm"
            width="220px"
            borderColor="rule"
            placeholder="name, tag or chain"
            aria-label="Find a sound"
            value={words}
            onChange={(event) => setWords(event.currentTarget.value)}
          />
          <Button size="xs" variant="outline" borderColor="rule" onClick={() => setShown(asTree ? '' : 'lineage')}>
            {asTree ? <Table2 size={14} /> : <ListTree size={14} />} {asTree ? 'as a table' : 'by lineage'}
          </Button>
          <Button
            size="xs"
            variant="outline"
            borderColor="rule"
            disabled={chosen.length === 0}
            onClick={() => setDialog('render')}
          >
            <FlaskConical size={14} /> Render {chosen.length > 0 ? chosen.length : ''}
          </Button>
          <Button
            size="xs"
            variant="outline"
            borderColor="rule"
            disabled={chosen.length < 2}
            onClick={() => setDialog('mix')}
          >
            <Layers size={14} /> Mix {chosen.length > 1 ? chosen.length : ''}
          </Button>
          <Button
            size="xs"
            variant="outline"
            borderColor="rule"
            disabled={chosen.length === 0}
            onClick={() => setDialog('export')}
          >
            <FileArchive size={14} /> Export {chosen.length > 0 ? chosen.length : ''}
          </Button>
        </HStack>
      </HStack>
      <Flex gap="3" align="stretch" wrap={{ base: 'wrap', md: 'nowrap' }}>
        <Box flex="1">
          <DropSound slim how={how} />
        </Box>
        <TakingChoice how={how} onChange={setHow} />
      </Flex>
      {unfinished.length > 0 && (
        <Stack as="section" aria-label="Renders that are not done" gap="0">
          {unfinished.map((render) => (
            <RenderEntry key={render.id} render={render} />
          ))}
        </Stack>
      )}
      <Box flex="1" minHeight={{ base: '260px', md: '0' }} overflow="auto" data-print="whole">
        <QueryState query={sounds} what="the sounds">
          {(all) => <Listed sounds={all} words={words} asTree={asTree} chosen={chosen} onChoose={setChosen} />}
        </QueryState>
      </Box>
      <StorageLine />
      {(dialog === 'render' || asked !== null) && (
        <RenderSounds sounds={soundsOf(sounds.data, picked)} onClose={close} />
      )}
      {dialog === 'mix' && <MixSounds sounds={soundsOf(sounds.data, picked)} onClose={close} />}
      {dialog === 'export' && <ExportSounds sounds={soundsOf(sounds.data, picked)} onClose={close} />}
    </Flex>
  );
}

function soundsOf(all: readonly Sound[] = [], ids: readonly string[]): Sound[] {
  return all.filter(({ id }) => ids.includes(id));
}

interface ListedProps {
  readonly sounds: readonly Sound[];
  readonly words: string;
  readonly asTree: boolean;
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
}

function Listed({ sounds, words, asTree, chosen, onChoose }: ListedProps) {
  const found = useMemo(() => sounds.filter((sound) => isFound(sound, words)), [sounds, words]);
  usePlayKey(found, found.find(({ missing }) => !missing)?.id);
  if (found.length === 0) return <Text p="4">No sound is called that, tagged so or made by such a chain.</Text>;
  if (!asTree) return <SoundTable sounds={found} chosen={chosen} onChoose={onChoose} />;
  return (
    <Box role="tree" aria-label="Lineages of sounds">
      {branchesOf(found)
        .filter(({ sound }) => sound.kind !== 'signal')
        .map((node) => (
          <Branch key={node.sound.id} node={node} />
        ))}
    </Box>
  );
}

function isFound({ name, tags, lineage, mixed, kind }: Sound, words: string): boolean {
  const text = [name, kind, ...tags, lineage?.chainName ?? '', mixed ? 'mix' : ''].join(' ').toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
