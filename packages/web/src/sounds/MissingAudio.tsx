import { Button, Stack, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useRelinkSoundMutation } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';

/** Says that a sound's audio is gone from the disk, and takes the same file back. */
export function MissingAudio({ sound }: { readonly sound: Sound }) {
  const input = useRef<HTMLInputElement>(null);
  const [relink, { isLoading }] = useRelinkSoundMutation();
  return (
    <Stack role="alert" borderWidth="1px" borderColor="alarm" p="4" gap="2" align="start">
      <Text color="alarm" fontWeight="600">
        The audio of this sound is missing on disk.
      </Text>
      <Text fontSize="sm">
        What is known of it, its renders and the chains that name it are still there. Give the same file again – it is
        known by its content, whatever it is called now.
      </Text>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="The same file"
        onChange={async (event) => {
          const file = event.currentTarget.files?.[0];
          if (!file) return;
          const result = await relink({ id: sound.id, file });
          if ('error' in result) tellFailure('Not imported', problemOf(result.error).detail);
          else tellDone('Found again', `“${sound.name}” is back.`);
        }}
      />
      <Button size="sm" variant="outline" borderColor="rule" loading={isLoading} onClick={() => input.current?.click()}>
        Pick the file
      </Button>
    </Stack>
  );
}
