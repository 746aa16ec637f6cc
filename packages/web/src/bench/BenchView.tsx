import { Box, Flex, Text } from '@chakra-ui/react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useParams, useSearchParams } from 'react-router';
import { allStages, chainFor, withSolos } from '@hexenkessel/core/chain';
import { useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { Cascade } from '../cascade/Cascade.tsx';
import type { RowKey } from '../cascade/renderReport.ts';
import { useCascade } from '../cascade/useCascade.ts';
import { markedOn } from '../chain/benchSlice.ts';
import { isBegun } from '../chain/newChain.ts';
import { useChainWork } from '../chain/useChainWork.ts';
import { BlindDialog, type BlindPair } from '../compare/BlindDialog.tsx';
import { blindId, useBlindCandidates, useWanted } from '../compare/useCandidates.ts';
import { useCompare, type Compared } from '../compare/useCompare.ts';
import { RowToolsProvider } from '../movement/rowTools.tsx';
import { MovementContext, useMovementTrace } from '../movement/traceContext.ts';
import { soundPlayer } from '../sounds/soundPlayer.ts';
import { PinDragProvider } from '../panel/PinDrag.tsx';
import { PanelStrip } from '../panel/PanelStrip.tsx';
import { chainUpTo, heardPart } from '../playback/heardPart.ts';
import { heardStretch } from '../playback/heardStretch.ts';
import { MeterStrip } from '../playback/MeterStrip.tsx';
import { NOTHING_HEARD, useLive } from '../playback/useLive.ts';
import { AddStage } from './AddStage.tsx';
import { BenchHeader } from './BenchHeader.tsx';
import { DropOnBench } from './DropOnBench.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { BenchTabs } from './BenchTabs.tsx';
import type { BenchTab } from './benchTabs.ts';
import { KeysDialog } from './KeysDialog.tsx';
import { RowsSide } from './RowsSide.tsx';
import { alongShelf, shelfOf } from './shelfOf.ts';
import { RenderMeasures } from './RenderMeasures.tsx';
import { Transport } from './Transport.tsx';
import { useRestore } from './useRestore.ts';
import { useBenchKeys } from './useBenchKeys.ts';
import { useBenchSound } from './useBenchSound.ts';

/** Where a chain is built and tuned. */
export function BenchView() {
  const { id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const { state } = useLocation() as { readonly state: unknown };
  const { ready, failure } = useChainWork(id, isBegun(state));
  const takeSound = useCallback(
    (soundId: string) => setSearch((before) => (before.set('sound', soundId), before), { replace: true, state }),
    [setSearch, state],
  );
  const work = useAppSelector((state) => state.chain.present.document);
  const madeOn = ready ? work.about.sound : undefined;
  const { sounds, sound, looking } = useBenchSound(search.get('sound'), madeOn, takeSound);
  const bench = useAppSelector((state) => state.bench);
  const { selectedStage, loop, loopTail, solos, listening, matched, shelf: shelfIds } = bench;
  const { region } = markedOn(bench, sound?.id ?? '');
  const dropRestore = useCallback(
    () => setSearch((before) => (before.delete('restore'), before), { replace: true, state }),
    [setSearch, state],
  );
  useRestore(search.get('restore'), ready, sounds, dropRestore);
  // What is tried out stands in the chain's place until it is taken or left.
  const document = useMemo(() => chainFor(bench.audition?.document ?? work, sound), [bench.audition, work, sound]);
  const cascade = useCascade(ready ? sound : undefined, document);
  const [adding, setAdding] = useState(false);
  const [row, setRow] = useState<RowKey>();
  const [blind, setBlind] = useState<BlindPair>();
  const [blindOpen, setBlindOpen] = useState(false);
  const heardDocument = withSolos(document, solos);
  const stretch = heardStretch(cascade, region, loop && !loopTail);
  const looped = stretch && { ...stretch, looped: loop };
  const wanted = useWanted(document, blind);
  const compared = useCompare({
    sound: ready ? sound : undefined,
    cascade,
    work: chainUpTo(heardDocument, row ?? 'result'),
    wanted,
    stretch: looped,
    matched: matched || blind !== undefined,
    onFailure: tellCompareFailure,
  });
  const playback = useLive({
    cascade,
    fetchClip: cascade.fetchClip,
    document: heardDocument,
    stretch,
    loop,
    // What is compared at equal loudness needs no other level.
    gain: compared.gainOf('work') + (row === 'result' && !matched && !blind ? cascade.levelGain : 0),
    others: compared.decks,
    // Two unnamed things are heard equally loud or not at all.
    heard: blind ? (blindReady(compared) ? blindId(blind.heard) : NOTHING_HEARD) : listening,
    row,
    onRow: setRow,
  });
  // Live stages need nothing but the row before them; where the render is moved to an anchor, all has to be known.
  const { prefix } = useMemo(() => heardPart(document, 'result'), [document]);
  const canPlay =
    cascade.rows[prefix] !== undefined && (cascade.rows.result !== undefined || document.render.anchor === 'source');
  const playsChain = playback.playing !== undefined;
  useEffect(() => {
    if (playsChain) soundPlayer.stop();
  }, [playsChain]);
  useEffect(() => () => soundPlayer.stop(), []);
  const trace = useMovementTrace(cascade, document);
  const movement = useMemo(() => ({ trace, playback }), [trace, playback]);
  const blindCandidates = useBlindCandidates();
  const shelf = shelfOf(sounds ?? [], shelfIds);
  const openAdding = useCallback(() => setAdding(true), []);
  const openBlind = useCallback(() => setBlindOpen(true), []);
  const [keysOpen, setKeysOpen] = useState(false);
  const openKeys = useCallback(() => setKeysOpen(true), []);
  const [saving, setSaving] = useState(false);
  const [tab, setTab] = useState<BenchTab>('stage');
  const [rowsOpen, setRowsOpen] = useState(false);
  const showTab = (name: BenchTab) => {
    setTab(name);
    setRowsOpen(true);
  };
  const selectedBefore = useRef<string>(null);
  useEffect(() => {
    setTab('stage');
    // The first stage is selected when the chain opens; that is nobody's wish to see its rows.
    if (selectedBefore.current !== null) setRowsOpen(true);
    selectedBefore.current = selectedStage;
  }, [selectedStage]);

  const soundId = sound?.id;
  const stepShelf = (by: 1 | -1) => {
    const next = soundId === undefined ? undefined : alongShelf(shelf, soundId, by);
    if (next) takeSound(next.id);
  };
  useBenchKeys({
    playback,
    onAdd: openAdding,
    onSave: () => setSaving(true),
    onBlind: openBlind,
    onShelf: stepShelf,
    onKeys: openKeys,
    onTab: showTab,
  });

  if (failure !== undefined) return <Message text={`The chain could not be opened. ${failure}`} />;
  if (!ready || !sounds || looking) return <Message text="Opening the chain …" />;
  if (!sound) return <Message text="There is no sound yet. Drop a sound file on the Start page." />;
  const chosen = allStages(document.stages).find((candidate) => candidate.stage.id === selectedStage);
  const stage = chosen?.stage ?? document.stages[0];

  return (
    <MovementContext value={movement}>
      <RowToolsProvider>
        <PinDragProvider>
          <DropOnBench onSound={takeSound}>
            <Flex direction="column" height="100%" minHeight="0">
              <BenchHeader
                sound={sound}
                saveOpen={saving}
                onSaveOpen={setSaving}
                compared={compared}
                onBlind={openBlind}
              />
              <Flex flex="1" minHeight="0" position="relative">
                <Flex direction="column" flex="1" minWidth="0" minHeight="0">
                  <Box flex="1" minHeight="0">
                    <Cascade sound={sound} document={document} cascade={cascade} playback={playback} onAdd={openAdding}>
                      <AddStage open={adding} onOpenChange={setAdding} />
                    </Cascade>
                  </Box>
                  {cascade.failure !== undefined && (
                    <Text role="alert" color="alarm" p="3">
                      {cascade.failure}
                    </Text>
                  )}
                </Flex>
                <RowsSide open={rowsOpen} onOpen={setRowsOpen}>
                  <BenchTabs
                    tab={tab}
                    onTab={setTab}
                    stage={stage}
                    document={document}
                    work={work}
                    sound={sound}
                    cascade={cascade}
                    playback={playback}
                  />
                </RowsSide>
              </Flex>
              <PanelStrip document={document} onPanel={() => showTab('panel')} onMovement={() => showTab('movement')} />
              <Flex align="center" px="3" minHeight="46px" borderTopWidth="1px" borderColor="ink" fontSize="sm" gap="3">
                <Transport
                  sounds={sounds}
                  sound={sound}
                  timing={document.timing}
                  sourceSeconds={cascade.sourceFrames / cascade.sampleRate}
                  ready={canPlay}
                  playback={playback}
                  onSound={takeSound}
                />
                <RenderMeasures cascade={cascade} />
              </Flex>
              <MeterStrip playback={playback} document={document} onKeys={openKeys} />
              {keysOpen && <KeysDialog onClose={() => setKeysOpen(false)} />}
              {blindOpen && (
                <BlindDialog
                  candidates={blindCandidates}
                  pair={blind}
                  ready={blindReady(compared)}
                  onPair={(pair) => {
                    setBlind(pair);
                    if (pair && !playback.playing) playback.toggle('result');
                  }}
                  onClose={() => setBlindOpen(false)}
                />
              )}
              <ConflictDialog />
            </Flex>
          </DropOnBench>
        </PinDragProvider>
      </RowToolsProvider>
    </MovementContext>
  );
}

/** Both unnamed things can be heard, at the same loudness. */
function blindReady({ isMatched }: Compared): boolean {
  return [0, 1].every((thing) => isMatched(blindId(thing)));
}

function tellCompareFailure(text: string): void {
  tellFailure('Cannot compare', text);
}

function Message({ text }: { text: string }) {
  return (
    <Text p="6" role="status">
      {text}
    </Text>
  );
}
