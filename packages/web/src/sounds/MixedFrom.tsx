import { Button, Link, Stack, Text } from '@chakra-ui/react';
import { Layers } from 'lucide-react';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { printLevel, showSeconds } from '@hexenkessel/core/model';
import type { Mixed, Sound } from '@hexenkessel/core/protocol';
import { MixSounds } from './MixSounds.tsx';
import { useSoundsOf } from './useSounds.ts';

/** Which sounds a mix is of, at which levels, and the way to mix them anew. */
export function MixedFrom({ sound }: { readonly sound: Sound }) {
  const [again, setAgain] = useState(false);
  const { mixed } = sound;
  const parts = useSoundsOf(mixed?.parts.map(({ soundId }) => soundId) ?? []);
  if (!mixed) return null;
  return (
    <Stack gap="1" fontSize="sm" as="section" aria-label="Mixed from">
      <Text>
        Mixed from {mixed.parts.length} sounds,{' '}
        {mixed.lay === 'place' ? 'each at its time reference' : 'all from the same start'}:
      </Text>
      {mixed.parts.map((part, n) => (
        <Text key={`${part.soundId} ${n}`} fontSize="xs">
          <Link asChild color="copper">
            <RouterLink to={`/sounds/${part.soundId}`}>{part.name}</RouterLink>
          </Link>{' '}
          {saidText(part)}
        </Text>
      ))}
      <Button alignSelf="start" size="xs" variant="outline" borderColor="rule" onClick={() => setAgain(true)}>
        <Layers size={14} /> Mix again
      </Button>
      {again && (
        <MixSounds
          sounds={mixed.parts.flatMap(({ soundId }) => parts.find(({ id }) => id === soundId) ?? [])}
          mixed={mixed}
          name={sound.name}
          onClose={() => setAgain(false)}
        />
      )}
    </Stack>
  );
}

function saidText({ level, muted, offset }: Mixed['parts'][number]): string {
  if (muted) return 'muted';
  const moved = offset === 0 ? '' : `, ${showSeconds(Math.abs(offset))} ${offset < 0 ? 'earlier' : 'later'}`;
  return `${printLevel(level)}${moved}`;
}
