import { Stack, Tabs, Text } from '@chakra-ui/react';
import { allStages } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { useShown } from '../chain/shownChain.ts';
import { tabShown, type BenchTab } from '../chain/viewSlice.ts';
import { isFirstDone, useRendered } from '../cascade/useRenderer.ts';
import { laterPart, useFetchedLater } from '../parts/laterPart.tsx';
import { StageInspector } from '../parameters/StageInspector.tsx';
import { BENCH_TABS } from './benchTabs.ts';

const PanelTab = laterPart(async () => (await import('../panel/PanelTab.tsx')).PanelTab);
const MovementTab = laterPart(async () => (await import('../movement/MovementTab.tsx')).MovementTab);
const TempoTab = laterPart(async () => (await import('../tempo/TempoTab.tsx')).TempoTab);
const VaryTab = laterPart(async () => (await import('../vary/VaryTab.tsx')).VaryTab);
const RenderPanel = laterPart(async () => (await import('./RenderPanel.tsx')).RenderPanel);
const AboutPanel = laterPart(async () => (await import('./AboutPanel.tsx')).AboutPanel);
const LATER = [PanelTab, MovementTab, TempoTab, VaryTab, RenderPanel, AboutPanel];

/** Everything about the chain beside its picture: a stage's rows, the panel, what moves, time, variations, renders, words. */
export function BenchTabs() {
  const dispatch = useAppDispatch();
  const tab = useAppSelector((state) => state.view.tab);
  useFetchedLater(useRendered(isFirstDone), LATER);
  return (
    <Tabs.Root
      value={tab}
      onValueChange={({ value }) => dispatch(tabShown(value as BenchTab))}
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
        <ChosenStage />
      </Tabs.Content>
      <Tabs.Content value="panel" flex="1" minHeight="0" px="3" pb="2">
        <PanelTab.Part />
      </Tabs.Content>
      <Tabs.Content value="movement" flex="1" minHeight="0" px="3" pb="2">
        <MovementTab.Part />
      </Tabs.Content>
      <Tabs.Content value="tempo" flex="1" minHeight="0" px="3" pb="2">
        <TempoTab.Part />
      </Tabs.Content>
      <Tabs.Content value="vary" flex="1" minHeight="0" px="3">
        <VaryTab.Part />
      </Tabs.Content>
      <Tabs.Content value="render" flex="1" minHeight="0" px="3">
        <RenderPanel.Part />
      </Tabs.Content>
      <Tabs.Content value="about" flex="1" minHeight="0" px="3" pb="2">
        <AboutPanel.Part />
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** The rows of the selected stage, or of the first. */
function ChosenStage() {
  const selected = useAppSelector((state) => state.view.selectedStage);
  const stage = useShown(
    ({ stages }) =>
      allStages(stages).find((one) => one.stage.id === selected)?.stage ?? (stages.length > 0 ? stages[0] : undefined),
  );
  return stage ? <StageInspector key={stage.id} stage={stage} /> : <NoStage />;
}

function NoStage() {
  return (
    <Stack pt="4" color="faded">
      <Text>The chain is empty: the render is the source as it is.</Text>
      <Text>Add a stage (key N) and say what should happen to the sound – backwards, church, muffled.</Text>
    </Stack>
  );
}
