import { Button, Checkbox, HStack, Stack, Text } from '@chakra-ui/react';
import { Archive, ArchiveRestore } from 'lucide-react';
import { useState } from 'react';
import { problemOf, useCleanStorageMutation, useRestoreBackupMutation, useStorageQuery } from '../api/api.ts';
import { wentAway } from '../api/reachableSlice.ts';
import { useAppDispatch } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { useFilePick } from '../parts/useFilePick.tsx';
import { Tip } from '../parts/Tip.tsx';
import { showBytes } from './showBytes.ts';

/** What the sounds take up, and the way to let go of what nobody needs. */
export function StorageLine() {
  const { data } = useStorageQuery();
  const [open, setOpen] = useState(false);
  if (!data) return null;
  return (
    <HStack justify="space-between" fontSize="sm" color="faded" borderTopWidth="1px" borderColor="rule" pt="2">
      <Text>
        {data.sounds} sounds, {showBytes(data.bytes)} on disk; {showBytes(data.freeBytes)} free.
      </Text>
      <HStack>
        <Tip text="All chains, sounds and renders in one ZIP file, as they are now">
          <Button asChild size="xs" variant="outline" borderColor="rule">
            <a href="/api/backup" download>
              <Archive size={14} aria-hidden /> Download a backup
            </a>
          </Button>
        </Tip>
        {data.restorable && <RestoreBackup />}
        {data.unneededSounds > 0 && (
          <Button size="xs" variant="outline" borderColor="rule" onClick={() => setOpen(true)}>
            {data.unneededSounds} {data.unneededSounds === 1 ? 'render' : 'renders'} nobody needs …
          </Button>
        )}
      </HStack>
      {open && <CleanDialog onClose={() => setOpen(false)} />}
    </HStack>
  );
}

/** Puts a backup in place of the demo, while nothing else is there. */
function RestoreBackup() {
  const [restore, { isLoading }] = useRestoreBackupMutation();
  const dispatch = useAppDispatch();
  const pick = useFilePick('Backup', ['.zip'], async (file) => {
    const result = await restore(file);
    if ('error' in result) tellFailure('Not restored', problemOf(result.error).detail);
    else {
      tellDone(
        'Restored',
        `The server begins anew with the backup of ${new Date(result.data.made).toLocaleString()}; that takes some seconds.`,
      );
      // The server begins anew; everything is asked for again when it is back.
      dispatch(wentAway());
    }
  });
  return (
    <>
      {pick.input}
      <Tip text="Instead of the demo, as long as nothing was done here yet">
        <Button size="xs" variant="outline" borderColor="rule" loading={isLoading} onClick={pick.open}>
          <ArchiveRestore size={14} aria-hidden /> Restore a backup
        </Button>
      </Tip>
    </>
  );
}

function CleanDialog({ onClose }: { readonly onClose: () => void }) {
  const { data } = useStorageQuery();
  const unneeded = data?.unneeded ?? [];
  // Nothing goes unless it is marked.
  const [marked, setMarked] = useState<readonly string[]>([]);
  const [clean, { isLoading }] = useCleanStorageMutation();
  const going = unneeded.filter(({ id }) => marked.includes(id));
  return (
    <PlainDialog
      title="Renders that nobody needs"
      onClose={onClose}
      footer={
        <Button
          size="sm"
          colorPalette="copperInk"
          loading={isLoading}
          disabled={going.length === 0}
          onClick={async () => {
            const result = await clean(going.map(({ id }) => id));
            if ('error' in result) tellFailure('Not cleaned up', problemOf(result.error).detail);
            else tellDone('Cleaned up', `${going.length} ${going.length === 1 ? 'sound is' : 'sounds are'} gone.`);
            onClose();
          }}
        >
          Delete {going.length} for good, {showBytes(going.reduce((sum, { bytes }) => sum + bytes, 0))}
        </Button>
      }
    >
      <Text fontSize="sm" mb="2">
        They are not sealed, tagged, looped, on a shelf or named by a chain, and nothing was made of them. What made
        them – the source and the chain – stays. Mark what shall go.
        {data && data.unneededSounds > unneeded.length && ` The ${unneeded.length} largest are shown.`}
      </Text>
      <Button
        size="2xs"
        variant="outline"
        borderColor="rule"
        mb="2"
        onClick={() => setMarked(going.length < unneeded.length ? unneeded.map(({ id }) => id) : [])}
      >
        {going.length < unneeded.length ? 'Mark all' : 'Mark none'}
      </Button>
      <Stack maxHeight="50vh" overflowY="auto" gap="1">
        {unneeded.map(({ id, name, bytes }) => (
          <Checkbox.Root
            key={id}
            size="sm"
            checked={marked.includes(id)}
            onCheckedChange={({ checked }) =>
              setMarked(checked === true ? [...marked, id] : marked.filter((other) => other !== id))
            }
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control borderColor="faded" />
            <Checkbox.Label>
              {name}{' '}
              <Text as="span" color="faded" fontFamily="mono" fontSize="xs">
                {showBytes(bytes)}
              </Text>
            </Checkbox.Label>
          </Checkbox.Root>
        ))}
      </Stack>
    </PlainDialog>
  );
}
