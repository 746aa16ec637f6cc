import { Text } from '@chakra-ui/react';
import { estimateRender, showSeconds, type ChainDocument, type RegionRender, type Sound } from '@hexenkessel/core';
import { showBytes } from '../sounds/showBytes.ts';

export type Told = ReturnType<typeof estimateRender>;

/** What a render of a sound, or of a region of it, gets and takes. InputError when it cannot be made. */
export function estimateOf(document: ChainDocument, sound: Sound, asked: RegionRender | undefined): Told {
  return estimateRender(document, { ...sound, frames: asked ? asked.region.end - asked.region.start : sound.frames });
}

interface Props {
  readonly told: Told;
  readonly sound: Sound;
  readonly asked: RegionRender | undefined;
}

/** How long the render gets and takes, before it is begun. */
export function Estimate({ told, sound, asked }: Props) {
  const frames = asked?.splice ? sound.frames : told.frames;
  return (
    <Text fontSize="sm" data-testid="estimate">
      Gets up to {showSeconds(frames / sound.sampleRate)} long, {showBytes((told.bytes * frames) / told.frames)};{' '}
      {told.seconds < 1 ? 'takes a moment.' : `takes about ${showSeconds(Math.round(told.seconds))}.`}
    </Text>
  );
}
