import { Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import {
  InputError,
  estimateRender,
  showSeconds,
  type ChainDocument,
  type RegionRender,
  type Sound,
} from '@hexenkessel/core';
import { showBytes } from '../sounds/showBytes.ts';

interface Props {
  readonly document: ChainDocument;
  readonly sound: Sound;
  readonly asked: RegionRender | undefined;
}

/** How long the render gets and takes, or why it cannot be made, before it is begun. */
export function Estimate({ document, sound, asked }: Props) {
  const told = useMemo(() => {
    const frames = asked ? asked.region.end - asked.region.start : sound.frames;
    try {
      return estimateRender(document, { ...sound, frames });
    } catch (error) {
      if (error instanceof InputError) return error.message;
      throw error;
    }
  }, [document, sound, asked]);
  if (typeof told === 'string')
    return (
      <Text role="alert" fontSize="sm" color="alarm">
        {told}
      </Text>
    );
  const frames = asked?.splice ? sound.frames : told.frames;
  return (
    <Text fontSize="sm" data-testid="estimate">
      Gets up to {showSeconds(frames / sound.sampleRate)} long, {showBytes((told.bytes * frames) / told.frames)};{' '}
      {told.seconds < 1 ? 'takes a moment.' : `takes about ${showSeconds(Math.round(told.seconds))}.`}
    </Text>
  );
}
