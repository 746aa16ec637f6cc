import { Button, Stack, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { Sound, SoundNeeds } from '@hexenkessel/core/protocol';
import { problemOf, useDeleteSoundMutation, useSoundNeedsQuery } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';

interface Props {
  readonly sound: Sound;
  readonly onDeleted: () => void;
  /** False where the person has said already that it shall go. */
  readonly asks?: boolean;
}

/** Deletes a sound that nothing needs; else says what does. */
export function DeleteSound({ sound, onDeleted, asks = true }: Props) {
  const [asked, setAsked] = useState(!asks);
  const [remove, { isLoading, isSuccess }] = useDeleteSoundMutation();
  const going = isLoading || isSuccess;
  // What is gone needs nothing and is not asked for.
  const { data: needs } = useSoundNeedsQuery(sound.id, { skip: going });
  if (!needs && !going) return null;
  const reasons = needs && !going ? reasonsOf(needs) : [];
  return (
    <Stack gap="1" borderTopWidth="1px" borderColor="rule" pt="3">
      {reasons.length > 0 ? (
        <Text fontSize="xs" color="faded">
          Cannot be deleted: it is needed by {reasons.join(', ')}.
        </Text>
      ) : asked ? (
        <Stack direction="row">
          <Button
            size="xs"
            colorPalette="copperInk"
            loading={isLoading}
            onClick={async () => {
              const result = await remove(sound.id);
              if ('error' in result) tellFailure('Not deleted', problemOf(result.error).detail);
              else {
                tellDone('Deleted', `“${sound.name}” and its audio are gone.`);
                onDeleted();
              }
            }}
          >
            Delete for good
          </Button>
          <Button size="xs" variant="outline" borderColor="rule" onClick={() => (asks ? setAsked(false) : onDeleted())}>
            Keep it
          </Button>
        </Stack>
      ) : (
        <Button size="xs" variant="ghost" color="alarm" alignSelf="start" onClick={() => setAsked(true)}>
          <X size={14} /> Delete this sound
        </Button>
      )}
    </Stack>
  );
}

export function reasonsOf({ renders, mixes, chains, signal }: SoundNeeds): string[] {
  return [
    ...renders.map(({ name }) => `the render “${name}”`),
    ...mixes.map(({ name }) => `the mix “${name}”`),
    ...chains.map(({ name }) => `the chain “${name}”`),
    ...(signal ? ['everybody, as a test signal'] : []),
  ];
}
