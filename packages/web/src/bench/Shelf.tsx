import { Button, HStack, Input, Menu, Text } from '@chakra-ui/react';
import { MainPortal } from '../parts/MainPortal.tsx';
import { Check, ChevronDown, ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import type { Sound, SoundName } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { shelfSet } from '../chain/deskSlice.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { alongShelf, shelfOf } from './shelfOf.ts';
import { useSoundFiles } from './useSoundFiles.ts';

/** Sounds that the menu shows; among more of them one is looked for. */
const AT_ONCE = 60;

interface Props {
  readonly sounds: readonly SoundName[];
  readonly sound: Sound;
  readonly onSound: (id: string) => void;
}

/** Switches between the test sounds of a chain, and says which those are. */
export function Shelf({ sounds, sound, onSound }: Props) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.desk.shelf);
  const shelf = shelfOf(sounds, chosen);
  const onShelf = (id: string) => shelf.some((other) => other.id === id);
  const step = (by: 1 | -1) => {
    const next = alongShelf(shelf, sound.id, by);
    if (next) onSound(next.id);
  };
  const change = (id: string) => {
    const ids = shelf.map((other) => other.id);
    dispatch(shelfSet(ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]));
  };
  const hearNew = (id: string) => {
    change(id);
    onSound(id);
  };
  const files = useSoundFiles(hearNew);
  const [words, setWords] = useState('');
  const others = sounds.filter(({ id }) => !onShelf(id) && id !== sound.id);
  return (
    <HStack gap="0">
      <input {...files.getInputProps()} aria-label="Sound files for the shelf" />
      <IconAction label="The sound before it on the shelf" shortcut="," minWidth="24px" onClick={() => step(-1)}>
        <ChevronLeft size={15} />
      </IconAction>
      <Menu.Root>
        <Menu.Trigger asChild>
          <Button size="xs" variant="outline" borderColor="rule" width="180px" justifyContent="space-between">
            <Text as="span" truncate>
              <Text as="span" color="faded">
                shelf:
              </Text>{' '}
              {sound.name}
            </Text>
            <ChevronDown size={13} />
          </Button>
        </Menu.Trigger>
        <MainPortal>
          <Menu.Positioner>
            <Menu.Content bg="sheet" maxHeight="min(60vh, var(--available-height))">
              <Menu.ItemGroup>
                <Menu.ItemGroupLabel>On the shelf</Menu.ItemGroupLabel>
                {shelf.map(({ id, name }) => (
                  <Menu.Item key={id} value={id} onClick={() => onSound(id)}>
                    <Text as="span" width="16px">
                      {id === sound.id && <Check size={13} aria-label="heard now" />}
                    </Text>
                    {name}
                  </Menu.Item>
                ))}
              </Menu.ItemGroup>
              <Menu.Separator />
              <Menu.Item value="import" onClick={files.open}>
                Import a sound …
              </Menu.Item>
              <Menu.Item value="change-this" onClick={() => change(sound.id)}>
                {onShelf(sound.id) ? `Take ${sound.name} off the shelf` : `Put ${sound.name} on the shelf`}
              </Menu.Item>
              <Menu.ItemGroup>
                <Menu.ItemGroupLabel>Put on the shelf and hear</Menu.ItemGroupLabel>
                {others.length > AT_ONCE && (
                  <Input
                    size="xs"
                    mx="2"
                    width="calc(100% - 16px)"
                    borderColor="rule"
                    aria-label="Find a sound for the shelf"
                    placeholder={`one of ${others.length} sounds`}
                    value={words}
                    onChange={(event) => setWords(event.currentTarget.value)}
                    // In a menu letters jump to entries; here they are a text.
                    onKeyDown={(event) => event.key !== 'Escape' && event.stopPropagation()}
                  />
                )}
                {others
                  .filter(({ name }) => name.toLowerCase().includes(words.trim().toLowerCase()))
                  .slice(0, AT_ONCE)
                  .map(({ id, name, kind }) => (
                    <Menu.Item key={id} value={`add ${id}`} onClick={() => hearNew(id)}>
                      {name}
                      {kind === 'source' ? '' : kind === 'signal' ? ' (test signal)' : ' (render)'}
                    </Menu.Item>
                  ))}
              </Menu.ItemGroup>
            </Menu.Content>
          </Menu.Positioner>
        </MainPortal>
      </Menu.Root>
      <IconAction label="The next sound on the shelf" shortcut="." minWidth="24px" onClick={() => step(1)}>
        <ChevronRight size={15} />
      </IconAction>
    </HStack>
  );
}
