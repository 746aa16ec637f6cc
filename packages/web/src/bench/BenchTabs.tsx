import { Stack, Tabs, Text } from '@chakra-ui/react';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import type { CascadeSource, CascadeState } from '../cascade/useCascade.ts';
import { MovementTab } from '../movement/MovementTab.tsx';
import { PanelTab } from '../panel/PanelTab.tsx';
import { StageInspector } from '../parameters/StageInspector.tsx';
import type { Playback } from '../playback/useLive.ts';
import { TempoTab } from '../tempo/TempoTab.tsx';
import { VaryTab } from '../vary/VaryTab.tsx';
import { AboutPanel } from './AboutPanel.tsx';
import { RenderPanel } from './RenderPanel.tsx';
import { BENCH_TABS, type BenchTab } from './benchTabs.ts';

interface Props {
  readonly tab: BenchTab;
  readonly onTab: (tab: BenchTab) => void;
  /** The stage whose rows are shown; none in an empty chain. */
  readonly stage: StageDocument | undefined;
  /** The chain as it is seen and heard, and as it is worked on. */
  readonly document: ChainDocument;
  readonly work: ChainDocument;
  readonly sound: Sound;
  readonly cascade: CascadeState & CascadeSource;
  readonly playback: Playback;
}

/** Everything about the chain beside its picture: a stage's rows, the panel, what moves, time, variations, renders, words. */
export function BenchTabs({ tab, onTab, stage, document, work, sound, cascade, playback }: Props) {
  return (
    <Tabs.Root
      value={tab}
      onValueChange={({ value }) => onTab(value as BenchTab)}
      size="sm"
      height="100%"
      display="flex"
      flexDirection="column"
      variant="line"
      colorPalette="copperInk"
      lazyMount
      unmountOnExit
    >
      <Tabs.List px="1" flexShrink={0} css={{ '& button': { paddingInline: '9px' } }}>
        {BENCH_TABS.map(({ id, title }) => (
          <Tabs.Trigger key={id} value={id}>
            {title}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value="stage" flex="1" minHeight="0" px="3" pb="2">
        {stage ? (
          <StageInspector
            key={stage.id}
            stage={stage}
            position={playback.position}
            cascade={cascade}
            seconds={cascade.sourceFrames / cascade.sampleRate}
          />
        ) : (
          <NoStage />
        )}
      </Tabs.Content>
      <Tabs.Content value="panel" flex="1" minHeight="0" px="3" pb="2">
        <PanelTab document={document} />
      </Tabs.Content>
      <Tabs.Content value="movement" flex="1" minHeight="0" px="3" pb="2">
        <MovementTab document={document} cascade={cascade} />
      </Tabs.Content>
      <Tabs.Content value="tempo" flex="1" minHeight="0" px="3" pb="2">
        <TempoTab document={document} sound={sound} cascade={cascade} />
      </Tabs.Content>
      <Tabs.Content value="vary" flex="1" minHeight="0" px="3">
        <VaryTab document={work} />
      </Tabs.Content>
      <Tabs.Content value="render" flex="1" minHeight="0" px="3">
        <RenderPanel sound={sound} document={document} begins={cascade.rows.result?.start} onListen={playback.stop} />
      </Tabs.Content>
      <Tabs.Content value="about" flex="1" minHeight="0" px="3" pb="2">
        <AboutPanel document={document} />
      </Tabs.Content>
    </Tabs.Root>
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
