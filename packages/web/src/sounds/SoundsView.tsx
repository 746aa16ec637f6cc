import { Box, Button, Flex, Heading, HStack, Input, Stack, Text } from '@chakra-ui/react';
import { FileArchive, FlaskConical, Layers, ListTree, Table2 } from 'lucide-react';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { problemOf, useLazySoundsFoundQuery, useRendersQuery, useSoundPagesInfiniteQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { QueryState } from '../parts/QueryState.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { useAllPages } from '../parts/useAllPages.ts';
import { useOrder } from '../parts/useOrder.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { DropSound } from './DropSound.tsx';
import { ExportSounds } from './ExportSounds.tsx';
import { Lineages } from './Lineages.tsx';
import { usePlayKey } from './PlaySound.tsx';
import { MixSounds } from './MixSounds.tsx';
import { RenderEntry } from './RenderEntry.tsx';
import { RenderSounds } from './RenderSounds.tsx';
import { SOUND_SORTS, SoundTable } from './SoundTable.tsx';
import { StorageLine } from './StorageLine.tsx';
import { TakingChoice } from './TakingChoice.tsx';
import { useSoundsOf } from './useSounds.ts';
import type { TakingHow } from './useTakeSound.ts';

const NONE: readonly string[] = [];

/** All sounds: sources and renders, as a table or by lineage; several at once are rendered or exported. */
export function SoundsView() {
  const renders = useRendersQuery({ done: false });
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [shown, setShown] = useKeptInAddress('as');
  const asTree = shown === 'lineage';
  const [words, setWords] = useKeptInAddress('find');
  usePageTitle('Sounds');
  const [how, setHow] = useState<TakingHow>({});
  const [dialog, setDialog] = useState<'render' | 'mix' | 'export'>();
  const unfinished = (renders.data ?? []).slice(0, 6);
  const asked = search.get('render');
  const picked = useSoundsOf(asked === null ? (dialog ? chosen : NONE) : [asked]);
  const ready = picked.length > 0;
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
        <Listed words={words} asTree={asTree} chosen={chosen} onChoose={setChosen} />
      </Box>
      <StorageLine />
      {ready && (dialog === 'render' || asked !== null) && <RenderSounds sounds={picked} onClose={close} />}
      {ready && dialog === 'mix' && <MixSounds sounds={picked} onClose={close} />}
      {ready && dialog === 'export' && <ExportSounds sounds={picked} onClose={close} />}
    </Flex>
  );
}

interface ListedProps {
  readonly words: string;
  readonly asTree: boolean;
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
}

function Listed({ words, asTree, chosen, onChoose }: ListedProps) {
  const { asked: sort } = useOrder(SOUND_SORTS);
  const sounds = useAllPages(useSoundPagesInfiniteQuery({ sort: asTree ? '' : sort, find: words }));
  const [findAll] = useLazySoundsFoundQuery();
  const chooseAll = async () => {
    const { data, error } = await findAll(words);
    if (data) onChoose(data.map(({ id }) => id));
    else tellFailure('Not selected', problemOf(error).detail);
  };
  const here = sounds.data?.items ?? [];
  usePlayKey(here, here.find(({ missing }) => !missing)?.id);
  return (
    <QueryState query={sounds} what="the sounds">
      {({ items, total }) => {
        if (total === 0) return <Text p="4">No sound is called that, tagged so or made by such a chain.</Text>;
        if (asTree) return <Lineages sounds={items} hasMore={sounds.hasMore} onMore={sounds.more} />;
        return (
          <SoundTable
            sounds={items}
            total={total}
            onMore={sounds.more}
            chosen={chosen}
            onChoose={onChoose}
            onChooseAll={() => void chooseAll()}
          />
        );
      }}
    </QueryState>
  );
}
