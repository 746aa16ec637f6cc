import { Box, Flex, Stack, Tabs, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useParams, useSearchParams } from 'react-router';
import { useSoundsQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { Cascade } from '../cascade/Cascade.tsx';
import { useCascade } from '../cascade/useCascade.ts';
import { loopSet } from '../chain/benchSlice.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { useChainWork } from '../chain/useChainWork.ts';
import { StageInspector } from '../parameters/StageInspector.tsx';
import { MeterStrip } from '../playback/MeterStrip.tsx';
import { useLive } from '../playback/useLive.ts';
import { AboutPanel } from './AboutPanel.tsx';
import { AddStage } from './AddStage.tsx';
import { BenchHeader } from './BenchHeader.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { RenderPanel } from './RenderPanel.tsx';
import { Transport } from './Transport.tsx';

const NONE: readonly never[] = [];

/** Where a chain is built and tuned. */
export function BenchView() {
  const { id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const dispatch = useAppDispatch();
  const { ready, failure } = useChainWork(id);
  const sounds = useSoundsQuery();
  const document = useAppSelector((state) => state.chain.present.document);
  const { selectedStage, region, loop } = useAppSelector((state) => state.bench);
  const sound =
    sounds.data?.find((candidate) => candidate.id === search.get('sound')) ??
    sounds.data?.findLast(({ kind }) => kind === 'source');
  const cascade = useCascade(ready ? sound : undefined, document);
  const playback = useLive({
    cascade,
    fetchClip: cascade.fetchClip,
    document,
    region,
    loop,
    gain: 0,
    others: NONE,
    heard: 'work',
  });
  const [adding, setAdding] = useState(false);
  const [saving, setSaving] = useState(false);
  const [tab, setTab] = useState('stage');
  useEffect(() => setTab('stage'), [selectedStage]);

  // In a text field undo belongs to the text; on everything else it belongs to the chain.
  const anywhereButText = { preventDefault: true, enableOnFormTags: ['slider', 'select'] as const };
  useHotkeys('mod+z', () => dispatch(undo()), anywhereButText);
  useHotkeys('mod+shift+z, mod+y', () => dispatch(redo()), anywhereButText);
  useHotkeys('mod+s', () => setSaving(true), { preventDefault: true, enableOnFormTags: true });
  useHotkeys('l', () => dispatch(loopSet(!loop)));
  useHotkeys('n', () => setAdding(true), { preventDefault: true });
  useHotkeys('space', () => (playback.playing ? playback.stop() : playback.toggle('result')), {
    preventDefault: true,
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, select, [role=tab], [role=slider]') !== null,
  });

  if (failure !== undefined) return <Message text={`The chain could not be opened. ${failure}`} />;
  if (!ready || !sounds.data) return <Message text="Opening the chain …" />;
  if (!sound) return <Message text="There is no sound yet. Drop a WAV file on the Start page." />;
  const stage = document.stages.find((candidate) => candidate.id === selectedStage) ?? document.stages[0];

  return (
    <Flex direction="column" height="100%" minHeight="0">
      <BenchHeader sound={sound} saveOpen={saving} onSaveOpen={setSaving} />
      <Flex flex="1" minHeight="0">
        <Flex direction="column" flex="1" minWidth="0" minHeight="0">
          <Box flex="1" minHeight="0">
            <Cascade sound={sound} document={document} cascade={cascade} playback={playback}>
              <AddStage open={adding} onOpenChange={setAdding} />
            </Cascade>
          </Box>
          {cascade.failure !== undefined && (
            <Text role="alert" color="alarm" p="3">
              {cascade.failure}
            </Text>
          )}
        </Flex>
        <Box width="424px" flexShrink={0} borderLeftWidth="1px" borderColor="rule" bg="sheet" minHeight="0">
          <Tabs.Root
            value={tab}
            onValueChange={({ value }) => setTab(value)}
            size="sm"
            height="100%"
            display="flex"
            flexDirection="column"
            variant="line"
            colorPalette="copperInk"
          >
            <Tabs.List px="2" flexShrink={0}>
              <Tabs.Trigger value="stage">Stage</Tabs.Trigger>
              <Tabs.Trigger value="render">Render</Tabs.Trigger>
              <Tabs.Trigger value="about">About</Tabs.Trigger>
            </Tabs.List>
            <Tabs.Content value="stage" flex="1" minHeight="0" px="3" pb="2">
              {stage ? <StageInspector key={stage.id} stage={stage} /> : <NoStage />}
            </Tabs.Content>
            <Tabs.Content value="render" flex="1" minHeight="0" px="3">
              <RenderPanel sound={sound} document={document} />
            </Tabs.Content>
            <Tabs.Content value="about" flex="1" minHeight="0" px="3" pb="2">
              <AboutPanel document={document} />
            </Tabs.Content>
          </Tabs.Root>
        </Box>
      </Flex>
      <Transport
        sounds={sounds.data}
        sound={sound}
        document={document}
        cascade={cascade}
        playback={playback}
        onSound={(next) => setSearch({ sound: next }, { replace: true })}
      />
      <MeterStrip playback={playback} document={document} />
      <ConflictDialog />
    </Flex>
  );
}

function NoStage() {
  return (
    <Stack pt="4" color="faded">
      <Text>The chain is empty: the render is the source as it is.</Text>
      <Text>Add a stage (key N) and say what should happen to the sound – backwards, church, muffled.</Text>
    </Stack>
  );
}

function Message({ text }: { text: string }) {
  return (
    <Text p="6" role="status">
      {text}
    </Text>
  );
}
