import { Button, Flex, HStack, Text } from '@chakra-ui/react';
import { Play, Repeat, Square } from 'lucide-react';
import { memo, useRef } from 'react';
import {
  InputError,
  parseTime,
  printTime,
  resolveTime,
  showBarsBeats,
  type Meter,
  type Timing,
} from '@hexenkessel/core/model';
import { edits } from '@hexenkessel/core/chain';
import type { SoundName } from '@hexenkessel/core/protocol';
import { problemOf, useChangeSoundMutation } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { loopSet, loopTailSet, markedOn, mark } from '../chain/playbackSlice.ts';
import { edit } from '../chain/edit.ts';
import { regionBetween } from '../chain/region.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { Tip } from '../parts/Tip.tsx';
import { readTempo } from '../tempo/readTempo.ts';
import { Tap } from '../tempo/Tap.tsx';
import { heardPart } from '../playback/heardPart.ts';
import { usePlayback, usePlayingRow } from '../playback/usePlayback.ts';
import { useRendered } from '../cascade/useRenderer.ts';
import { useShown, useShownSound } from '../chain/shownChain.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { MidiTempo } from './MidiTempo.tsx';
import { Shelf } from './Shelf.tsx';

interface Props {
  readonly sounds: readonly SoundName[];
  readonly onSound: (id: string) => void;
}

/** Playing, the region, the sound at hand, the tempo. */
export const Transport = memo(function Transport({ sounds, onSound }: Props) {
  const sound = useShownSound();
  const timing = useShown((chain) => chain.timing);
  const sourceSeconds = useRendered(({ sourceFrames, sampleRate }) => sourceFrames / sampleRate);
  const playback = usePlayback();
  const playing = usePlayingRow();
  const ready = useCanPlay();
  const dispatch = useAppDispatch();
  const loop = useAppSelector((state) => state.playback.loop);
  const loopTail = useAppSelector((state) => state.playback.loopTail);
  const { region } = useAppSelector((state) => markedOn(state, sound.id));
  const follows = useAppSelector((state) => state.chain.present.document.timing.follows);
  const ofSound = follows === 'sound' && sound.tempo !== null;
  const [changeSound] = useChangeSoundMutation();
  /** Of whatever it is that counts. */
  const setTempo = (tempo: number, from?: string) => {
    if (!ofSound) {
      dispatch(edit(edits.setTempo(tempo, from)));
      return;
    }
    void changeSound({ id: sound.id, change: { tempo } }).then((result) => {
      if ('error' in result) tellFailure('The tempo was not saved', problemOf(result.error).detail);
    });
  };
  const setEdge = (edge: 'start' | 'end') => (text: string) => {
    const seconds = resolveTime(parseTime(text, timing.meter), timing, sound.sampleRate);
    const typed = { start: 0, end: sourceSeconds, ...region, [edge]: seconds };
    dispatch(mark(sound.id, { region: regionBetween(typed.start, typed.end) }));
  };
  return (
    <Flex align="center" gap="3" flex="1" flexWrap="wrap">
      <HStack gap="1">
        <IconAction
          label={playing ? 'Stop' : 'Play the render'}
          shortcut="Space"
          size="sm"
          disabled={!playing && !ready}
          onClick={() => (playing ? playback.stop() : playback.toggle('result'))}
        >
          {playing ? <Square size={17} /> : <Play size={17} />}
        </IconAction>
        <Button
          size="xs"
          variant={playing === 'source' ? 'solid' : 'ghost'}
          onClick={() => playback.toggle('source')}
          disabled={!ready}
        >
          sound
        </Button>
        <IconAction
          label={loop ? 'Loop off' : 'Loop the region'}
          shortcut="L"
          aria-pressed={loop}
          color={loop ? 'verdigris' : 'ink'}
          onClick={() => dispatch(loopSet(!loop))}
        >
          <Repeat size={16} />
        </IconAction>
        {loop && !region && (
          <Tip
            text={
              loopTail
                ? 'Loops when the tail has rung out; press to loop in the length of the sound'
                : 'Loops in the length of the sound, the tail over its start; press to let the tail ring out first'
            }
          >
            <Button
              size="xs"
              variant={loopTail ? 'solid' : 'outline'}
              borderColor="rule"
              aria-pressed={loopTail}
              onClick={() => dispatch(loopTailSet(!loopTail))}
            >
              with tail
            </Button>
          </Tip>
        )}
        <Clock timing={timing} />
      </HStack>
      <HStack gap="1">
        <Text color="faded">region</Text>
        <TypedValue
          label="Region start"
          text={region ? printTime(Number(region.start.toFixed(4))) : 'start'}
          width="86px"
          borderColor="rule"
          onCommit={setEdge('start')}
        />
        <TypedValue
          label="Region end"
          text={region ? printTime(Number(region.end.toFixed(4))) : 'end'}
          width="86px"
          borderColor="rule"
          onCommit={setEdge('end')}
        />
        {region && (
          <Button size="2xs" variant="ghost" onClick={() => dispatch(mark(sound.id, { region: null }))}>
            clear region
          </Button>
        )}
      </HStack>
      <HStack gap="1">
        <Shelf sounds={sounds} sound={sound} onSound={onSound} />
      </HStack>
      <HStack gap="1">
        <TypedValue
          label="Tempo"
          text={`${timing.tempo} bpm`}
          width="86px"
          borderColor="rule"
          data-tip={ofSound ? 'The tempo of the sound, which counts for this chain' : 'The tempo of the chain'}
          onCommit={(text) => setTempo(readTempo(text), 'tempo')}
        />
        <Tap onTempo={(tempo) => setTempo(tempo, 'tapped tempo')} />
        <TypedValue
          label="Meter"
          text={timing.meter.join('/')}
          width="52px"
          borderColor="rule"
          onCommit={(text) => dispatch(edit(edits.setMeter(readMeter(text))))}
        />
        <MidiTempo at={region?.start ?? 0} />
      </HStack>
    </Flex>
  );
});

/** Live stages need nothing but the row before them; where the render is moved to an anchor, all has to be known. */
function useCanPlay(): boolean {
  const prefix = useShown((chain) => heardPart(chain, 'result').prefix);
  const stays = useShown((chain) => chain.render.anchor === 'source');
  return useRendered(({ rows }) => rows[prefix] !== undefined && (rows.result !== undefined || stays));
}

function readMeter(text: string): Meter {
  const match = /^\s*(\d+)\s*\/\s*(\d+)\s*$/.exec(text);
  if (!match) throw new InputError(`"${text}" is not a meter; write 4/4, 3/4 or 6/8.`);
  return [Number(match[1]), Number(match[2])];
}

/** Where it plays, in bars.beats and seconds. */
function Clock({ timing }: { timing: Timing }) {
  const text = useRef<HTMLSpanElement>(null);
  usePlayPosition((seconds) => {
    if (text.current) text.current.textContent = `${showBarsBeats(seconds, timing)} ${seconds.toFixed(2)} s`;
  });
  return (
    <Text as="span" fontFamily="mono" minWidth="104px" color="faded">
      <span ref={text} data-testid="clock">
        –
      </span>
    </Text>
  );
}
