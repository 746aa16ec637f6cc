import { Box, Button, HStack, Text } from '@chakra-ui/react';
import { Pause, Play } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Clip } from '@hexenkessel/core/model';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Watched } from '@hexenkessel/core/script';
import type { Sound, SoundName } from '@hexenkessel/core/protocol';
import { Waveform } from '../cascade/Waveform.tsx';
import type { CascadeState, ChainRenderer } from '../cascade/chainRenderer.ts';
import { useRenderOf } from '../cascade/useRenderer.ts';
import { Choice } from '../parts/Choice.tsx';
import { useSubject } from '../parts/useSubject.ts';
import { pictures } from '../pictures/usePicture.ts';
import type { Hearing, Playback } from '../playback/playback.ts';
import { PlaybackContext, useNewPlayback } from '../playback/usePlayback.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { useSoundById } from '../sounds/useSounds.ts';
import { ScriptReadings } from './ScriptReadings.tsx';
import { WatchedTraces } from './WatchedTraces.tsx';

const ROUND_AND_ROUND: Omit<Hearing, 'document'> = {
  region: null,
  loop: true,
  loopTail: false,
  gain: 0,
  atLevel: true,
  others: [],
  heard: 'work',
};
/** Milliseconds until what is watched is worked out anew. */
const WATCH_WAIT = 250;

interface Props {
  /** As it is heard. */
  readonly chain: ChainDocument;
  /** As it is rendered; behind what is heard for a moment. */
  readonly seen: ChainDocument;
  readonly sounds: readonly SoundName[];
  /** Id of the one that it is tried on. */
  readonly chosen: string | undefined;
  readonly onChoose: (id: string) => void;
  /** When the text was changed last, by the clock of the page. */
  readonly typed: RefObject<number>;
}

/** A sound that runs through the script round and round, what it watches, and how it goes. */
export function ScriptSound({ chain, seen, sounds, chosen, onChoose, typed }: Props) {
  const { sound } = useSoundById(chosen);
  const { renderer, state } = useRenderOf(sound, seen);
  const playback = useNewPlayback(renderer);
  // Not only once it is drawn: it is heard the sooner.
  useLayoutEffect(() => playback?.hear({ ...ROUND_AND_ROUND, document: chain }), [playback, chain]);
  const watched = useWatched(seen, renderer, state.rows.source?.clipId);
  const wrong = state.failure !== undefined || (watched !== undefined && watched.failure !== 'none');
  if (!sound)
    return <Text color="faded">Take a sound in first, on Start or Sounds; it is heard through the script here.</Text>;
  return (
    <Box>
      <HStack gap="2" mb="1" wrap="wrap">
        {playback && <PlayButton playback={playback} />}
        <Choice
          label="Sound to try it on"
          value={sound.id}
          options={sounds.map(({ id, name }) => [id, name] as const)}
          onChange={onChoose}
          width="190px"
        />
        <Text fontSize="sm" role="status" color={wrong ? 'alarm' : 'faded'}>
          {state.failure ?? workOf(state) ?? (watched ? wentOf(watched) : '')}
        </Text>
        {playback && (
          <PlaybackContext.Provider value={playback}>
            <ScriptReadings typed={typed} />
          </PlaybackContext.Provider>
        )}
      </HStack>
      <Strip sound={sound} watched={watched} row={state.rows.source} playback={playback} />
    </Box>
  );
}

/** How far long work is that must be done before it can be heard; undefined where there is none. */
const workOf = ({ busy, progress }: CascadeState) =>
  busy && progress !== undefined ? `rendering … ${Math.round(100 * progress)} %` : undefined;

function wentOf({ failure, lateLine, held }: Watched): string {
  if (failure === 'too long')
    return `It works too long (line ${lateLine}): more than 2,000 steps a sample. From there on the sound passes as it is.`;
  if (failure === 'not finite') return 'A value became no number or infinite; from there on the sound passes as it is.';
  return held ? 'It goes beyond ±64 and is held there.' : '';
}

function PlayButton({ playback }: { readonly playback: Playback }) {
  const row = useSubject(playback, (state) => state.row);
  const playing = row !== undefined;
  return (
    <Button size="sm" colorPalette="copperInk" onClick={() => playback.toggle('result')}>
      {playing ? <Pause size={15} /> : <Play size={15} />}
      {playing ? 'Stop' : 'Play'}
    </Button>
  );
}

interface StripProps {
  readonly sound: Sound;
  readonly watched: Watched | undefined;
  readonly row: ChainRenderer['state']['rows']['source'];
  readonly playback: Playback | undefined;
}

function Strip({ sound, watched, row, playback }: StripProps) {
  const host = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = host.current!;
    const watcher = new ResizeObserver(() => setWidth(element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  const seconds = sound.frames / sound.sampleRate;
  const scale = useMemo(() => ({ start: 0, end: seconds, width }), [seconds, width]);
  return (
    <Box ref={host} position="relative" height="84px" borderWidth="1px" borderColor="rule" bg="paper" overflow="hidden">
      {width > 0 && (
        <Waveform
          scale={scale}
          sampleRate={sound.sampleRate}
          row={row}
          ghost={undefined}
          label={`Waveform of ${sound.name}`}
        />
      )}
      {watched && watched.values.length > 0 && <WatchedTraces watched={watched} share={watched.seconds / seconds} />}
      {playback && (
        <PlaybackContext.Provider value={playback}>
          <Needle seconds={seconds} />
        </PlaybackContext.Provider>
      )}
    </Box>
  );
}

function Needle({ seconds }: { readonly seconds: number }) {
  const line = useRef<HTMLDivElement>(null);
  usePlayPosition((at) => {
    if (line.current) line.current.style.left = `${(100 * at) / seconds}%`;
  });
  return (
    <Box ref={line} position="absolute" top="0" bottom="0" left="0" width="1px" bg="copper" pointerEvents="none" />
  );
}

/** What the script watches over the sound, worked out a moment after text or settings have changed. */
function useWatched(
  chain: ChainDocument,
  renderer: ChainRenderer | undefined,
  clipId: number | undefined,
): Watched | undefined {
  const [shown, setShown] = useState<Watched>();
  const clip = useRef<{ readonly id: number; readonly coming: Promise<Clip | undefined> }>(undefined);
  useEffect(() => {
    if (!renderer || clipId === undefined) return undefined;
    let left = false;
    const timer = setTimeout(() => {
      if (clip.current?.id !== clipId) clip.current = { id: clipId, coming: renderer.fetchClip('source') };
      void clip.current.coming
        .then(
          (sound) => sound && pictures().watchScript(chain.scripts[0].text, chain.stages[0], chain.timing, sound, 600),
        )
        .then((watched) => {
          if (!left && watched) setShown(watched);
        })
        .catch(() => undefined); // what cannot be worked out is left out
    }, WATCH_WAIT);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [chain, renderer, clipId]);
  return shown;
}
