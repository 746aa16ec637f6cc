import { Button, HStack, Menu, Text, chakra } from '@chakra-ui/react';
import { MainPortal } from '../parts/MainPortal.tsx';
import { ChevronDown, Ear, X } from 'lucide-react';
import { memo, useState } from 'react';
import { showLevel } from '@hexenkessel/core/model';
import { SLOTS } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { listeningSet, matchedSet } from '../chain/playbackSlice.ts';
import { copyToSlot, emptyOtherSlots, goToSlot, nameSlot, otherSlots, slotTitle } from '../chain/slots.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { NameDialog } from '../parts/NameDialog.tsx';
import { Tip } from '../parts/Tip.tsx';
import { dialogSet } from '../chain/viewSlice.ts';
import { useComparison } from './comparison.ts';

/** Dry or wet, four slots of settings, all equally loud if wanted. */
export const CompareBar = memo(function CompareBar() {
  const { compared } = useComparison();
  const dispatch = useAppDispatch();
  const { listening, matched } = useAppSelector((state) => state.playback);
  const dry = listening === 'dry';
  const version = listening.startsWith('version-') ? listening.slice('version-'.length) : undefined;
  const gain = compared.gainOf(listening === 'work' ? 'work' : listening);
  const missing = compared.missingOf(listening === 'work' ? 'work' : listening);
  return (
    <HStack gap="1" role="group" aria-label="Compare">
      <Tip text={dry ? 'Hear the chain again (D)' : 'Hear the sound before the chain (D)'}>
        <Button
          size="xs"
          width="46px"
          variant={dry ? 'solid' : 'outline'}
          borderColor="rule"
          aria-pressed={dry}
          onClick={() => dispatch(listeningSet(dry ? 'work' : 'dry'))}
        >
          dry
        </Button>
      </Tip>
      <SlotButtons />
      <SlotMenu />
      <Tip text="Make all that is compared as loud as the dry sound, over the region that is heard (E)">
        <Button
          size="xs"
          variant={matched ? 'solid' : 'outline'}
          colorPalette={matched ? 'copperInk' : 'gray'}
          borderColor="rule"
          aria-pressed={matched}
          onClick={() => dispatch(matchedSet(!matched))}
        >
          loudness match
        </Button>
      </Tip>
      {matched && (
        <Text fontFamily="mono" fontSize="xs" color="faded" minWidth="58px" role="status" data-testid="match-gain">
          {compared.loudnessOf('work') === undefined ? 'measuring' : `${gain > 0 ? '+' : ''}${showLevel(gain)}`}
          {Math.abs(missing) >= 0.1 && (
            <Tip text="No more than 24 dB are given, so that a change of the chain is never that much too loud">
              <chakra.span color="alarm">, {Math.abs(missing).toFixed(0)} LU short</chakra.span>
            </Tip>
          )}
        </Text>
      )}
      <IconAction label="Blind A/B test" shortcut="B" onClick={() => dispatch(dialogSet('blind'))}>
        <Ear size={16} />
      </IconAction>
      {version !== undefined && (
        <Button size="xs" variant="outline" borderColor="copper" onClick={() => dispatch(listeningSet('work'))}>
          listening to version {version} <X size={13} aria-label="Hear the chain again" />
        </Button>
      )}
    </HStack>
  );
});

function SlotButtons() {
  const dispatch = useAppDispatch();
  const slot = useAppSelector((state) => state.chain.present.slot);
  const slots = useAppSelector((state) => state.chain.present.slots);
  return (
    <HStack gap="0" borderWidth="1px" borderColor="rule" borderRadius="2px">
      {SLOTS.map((letter, index) => {
        const here = letter === slot;
        const filled = here || slots[letter] !== undefined;
        const title = slotTitle(letter, slots[letter]);
        return (
          <Tip
            key={letter}
            text={`${here ? `Working in ${title}` : filled ? `Go to ${title}` : `Go to slot ${letter}: begins as a copy`} (Shift+${index + 1})`}
          >
            <chakra.button
              type="button"
              aria-label={`Slot ${letter}${slots[letter]?.name ? `, ${slots[letter].name}` : ''}`}
              aria-pressed={here}
              data-filled={filled}
              minWidth="26px"
              height="24px"
              fontFamily="heading"
              fontWeight={here ? '700' : '400'}
              bg={here ? 'ink' : 'transparent'}
              color={here ? 'paper' : filled ? 'ink' : 'faded'}
              textDecoration={filled && !here ? 'underline' : 'none'}
              onClick={() => {
                dispatch(listeningSet('work'));
                if (!here) dispatch(goToSlot(letter));
              }}
            >
              {letter}
            </chakra.button>
          </Tip>
        );
      })}
    </HStack>
  );
}

function SlotMenu() {
  const dispatch = useAppDispatch();
  const slot = useAppSelector((state) => state.chain.present.slot);
  const slots = useAppSelector((state) => state.chain.present.slots);
  const [naming, setNaming] = useState(false);
  return (
    <>
      <Menu.Root>
        <Menu.Trigger asChild>
          <IconAction label="Copy or name slots" minWidth="24px">
            <ChevronDown size={14} />
          </IconAction>
        </Menu.Trigger>
        <MainPortal>
          <Menu.Positioner>
            <Menu.Content bg="sheet">
              {otherSlots(slot).map((letter) => (
                <Menu.Item key={letter} value={`copy ${letter}`} onClick={() => dispatch(copyToSlot(letter))}>
                  Copy to {slotTitle(letter, slots[letter])}
                  {slots[letter] ? ' (replaces it)' : ''}
                </Menu.Item>
              ))}
              <Menu.Separator />
              <Menu.Item value="name" onClick={() => setNaming(true)}>
                Name slot {slot} …
              </Menu.Item>
              <Menu.Item value="empty" onClick={() => dispatch(emptyOtherSlots())}>
                Clear other slots
              </Menu.Item>
            </Menu.Content>
          </Menu.Positioner>
        </MainPortal>
      </Menu.Root>
      {naming && (
        <NameDialog
          title={`A name for slot ${slot}`}
          value={slots[slot]?.name ?? ''}
          maxLength={40}
          onDone={(name) => dispatch(nameSlot(name))}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}
