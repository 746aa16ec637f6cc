import { Box, Flex, Heading } from '@chakra-ui/react';
import { useCallback, useMemo, useRef } from 'react';
import { useLocation, useParams, useSearchParams } from 'react-router';
import type { SoundName } from '@hexenkessel/core/protocol';
import { useAppSelector } from '../app/store.ts';
import { Cascade } from '../cascade/Cascade.tsx';
import { isBegun } from '../chain/beginChain.ts';
import { useChainWork, useKeptWork } from '../chain/useChainWork.ts';
import { RowToolsProvider } from '../movement/rowTools.tsx';
import { PanelStrip } from '../panel/PanelStrip.tsx';
import { PinDragProvider } from '../panel/PinDrag.tsx';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { MeterStrip } from '../playback/MeterStrip.tsx';
import { AddStage } from './AddStage.tsx';
import { BenchDialogs } from './BenchDialogs.tsx';
import { BenchEngine } from './BenchEngine.tsx';
import { BenchHeader } from './BenchHeader.tsx';
import { BenchTabs } from './BenchTabs.tsx';
import { DropOnBench } from './DropOnBench.tsx';
import { RenderFailure, RenderMeasures } from './RenderMeasures.tsx';
import { RowsSide } from './RowsSide.tsx';
import { Transport } from './Transport.tsx';
import { useBenchKeys } from './useBenchKeys.ts';
import { useBenchSound } from './useBenchSound.ts';
import { useRestore } from './useRestore.ts';
import { useTabInAddress } from './useTabInAddress.ts';

/** Where a chain is built and tuned: opens the chain and the sound that the address names. */
export function BenchView() {
  const { id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const { state } = useLocation() as { readonly state: unknown };
  const { ready, failure } = useChainWork(id, isBegun(state));
  const takeSound = useCallback(
    (soundId: string) => setSearch((before) => (before.set('sound', soundId), before), { replace: true, state }),
    [setSearch, state],
  );
  const dropRestore = useCallback(
    () => setSearch((before) => (before.delete('restore'), before), { replace: true, state }),
    [setSearch, state],
  );
  const madeOn = useAppSelector(({ chain }) => (ready ? chain.present.document.about.sound : undefined));
  const made = useMemo(() => (ready ? { on: madeOn } : undefined), [ready, madeOn]);
  const { sounds, sound, looking } = useBenchSound(search.get('sound'), made, takeSound);
  useRestore(search.get('restore'), ready, dropRestore);

  // While another one is looked for, what is there stays as it is.
  const last = useRef(sound);
  if (sound) last.current = sound;
  const shown = sound ?? (looking ? last.current : undefined);

  if (failure !== undefined) return <Message text={`The chain could not be opened. ${failure}`} />;
  if (!ready || !sounds || (looking && !shown)) return <Message text="Opening the chain …" />;
  if (!shown) return <Message text="There is no sound yet. Drop a sound file on the Start page." />;
  return (
    <BenchEngine sound={shown}>
      <KeptWork />
      <RowToolsProvider>
        <PinDragProvider>
          <DropOnBench onSound={takeSound}>
            <Bench sounds={sounds} onSound={takeSound} />
          </DropOnBench>
        </PinDragProvider>
      </RowToolsProvider>
    </BenchEngine>
  );
}

/** Apart, so that nothing else is rendered for what is saved. */
function KeptWork() {
  useKeptWork();
  return null;
}

function Bench({ sounds, onSound }: { readonly sounds: readonly SoundName[]; readonly onSound: (id: string) => void }) {
  useBenchKeys(sounds, onSound);
  useTabInAddress();
  usePageTitle(
    useAppSelector((state) => state.chain.present.document.name),
    'Bench',
  );
  return (
    <Flex direction="column" height="100%" minHeight="0" overflowY={{ base: 'auto', md: 'visible' }}>
      <BenchHeader />
      <Flex flex={{ base: '1 0 auto', md: '1' }} minHeight={{ base: '420px', md: '0' }} position="relative">
        <Flex direction="column" flex="1" minWidth="0" minHeight="0">
          <Box flex="1" minHeight="0" maxHeight={{ base: '420px', md: 'none' }}>
            <Cascade>
              <AddStage />
            </Cascade>
          </Box>
          <RenderFailure />
        </Flex>
        <RowsSide>
          <BenchTabs />
        </RowsSide>
      </Flex>
      <PanelStrip />
      <Flex
        align="center"
        px="3"
        minHeight="46px"
        wrap={{ base: 'wrap', md: 'nowrap' }}
        borderTopWidth="1px"
        borderColor="ink"
        fontSize="sm"
        gap="3"
      >
        <Transport sounds={sounds} onSound={onSound} />
        <RenderMeasures />
      </Flex>
      <MeterStrip />
      <BenchDialogs />
    </Flex>
  );
}

function Message({ text }: { text: string }) {
  usePageTitle('Bench');
  return (
    <Box p="6" role="status">
      <Heading as="h1" size="md" fontWeight="400">
        {text}
      </Heading>
    </Box>
  );
}
