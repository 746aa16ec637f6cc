import { Button, HStack, Text } from '@chakra-ui/react';
import { Play, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { Clip } from '@hexenkessel/core/model';
import type { SoundMarks } from '@hexenkessel/core/formats';
import { LoopPlayer } from './loopPlayer.ts';

/** Plays the sound as a held note that is let go. */
export function Audition({ clip, marks }: { readonly clip: Clip; readonly marks: SoundMarks }) {
  const [state, setState] = useState<'idle' | 'held' | 'released'>('idle');
  const player = useRef<LoopPlayer>(undefined);
  useEffect(() => () => player.current?.close(), []);
  const play = () => {
    player.current ??= new LoopPlayer();
    player.current.hold(clip, marks.loops, () => setState('idle'));
    setState('held');
  };
  const stop = () => {
    player.current?.stop();
    setState('idle');
  };
  return (
    <HStack gap="2">
      <Button size="xs" variant="outline" borderColor="rule" onClick={state === 'idle' ? play : stop}>
        {state === 'idle' ? <Play size={14} /> : <Square size={14} />}
        {state === 'idle' ? 'Play note' : 'Stop'}
      </Button>
      <Button
        size="xs"
        variant="outline"
        borderColor="rule"
        disabled={state !== 'held'}
        onClick={() => {
          player.current?.release(clip, marks.loops);
          setState('released');
        }}
      >
        Release note
      </Button>
      <Text fontSize="xs" color="faded" aria-live="polite">
        {state === 'held' &&
          (marks.loops.some(({ kind }) => kind === 'sustain') ? 'loops over the sustain loop' : 'plays')}
        {state === 'released' &&
          (marks.loops.some(({ kind }) => kind === 'release') ? 'goes on into the release loop' : 'plays to its end')}
      </Text>
    </HStack>
  );
}
