import { Text } from '@chakra-ui/react';
import { showSeconds } from '@hexenkessel/core/model';
import type { RegionRender, RenderEstimate } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import { showBytes } from '../sounds/showBytes.ts';

interface Props {
  readonly told: RenderEstimate;
  readonly sound: Sound;
  readonly asked: RegionRender | undefined;
}

/** How long the render gets and takes, before it is begun. */
export function Estimate({ told, sound, asked }: Props) {
  const frames = asked?.splice ? sound.frames : told.frames;
  return (
    <Text fontSize="sm" data-testid="estimate">
      Output: up to {showSeconds(frames / sound.sampleRate)} long, {showBytes((told.bytes * frames) / told.frames)};{' '}
      render time:
      {told.seconds < 1 ? ' a moment.' : ` about ${showSeconds(Math.round(told.seconds))}.`}
    </Text>
  );
}
