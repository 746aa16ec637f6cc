import { Box, Button, CloseButton, Dialog, HStack, Input, Portal, Stack, Text } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import {
  BUILT_INS,
  SCRIPT_KIND,
  didYouMean,
  searchStages,
  stepsText,
  type Catalogue,
  type Stage,
} from '@hexenkessel/core/stages';
import { newStage, takesClipStages, edits, withScriptStage } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector, useAppStore } from '../app/store.ts';
import { addToSet, dialogSet, stageSelected } from '../chain/viewSlice.ts';
import { edit } from '../chain/edit.ts';
import { FamilyMark } from '../parts/family.tsx';
import { useOffered } from '../scripts/useOffered.ts';
import { branchToAddTo, placeIn, whereToAdd } from './placeToAdd.ts';

/** Search first: a few letters of what is wanted, the results explain themselves, Enter adds the first. */
export function AddStageDialog() {
  const open = useAppSelector((state) => state.view.dialog === 'add');
  const dispatch = useAppDispatch();
  const onOpenChange = (next: boolean) => dispatch(dialogSet(next ? 'add' : null));
  const store = useAppStore();
  const selected = useAppSelector((state) => state.view.selectedStage);
  const [text, setText] = useState('');
  const [marked, setMarked] = useState(0);
  /** Marks a row and brings it into sight. */
  const mark = (index: number) => {
    setMarked(index);
    window.document.getElementById(`found-${index}`)?.scrollIntoView({ block: 'nearest' });
  };
  const input = useRef<HTMLInputElement>(null);
  const branchId = useAppSelector(branchToAddTo);
  const offlineToo = useAppSelector(({ chain }) => takesClipStages(BUILT_INS, chain.present.document, branchId));
  const scripts = useAppSelector((state) => state.chain.present.document.scripts);
  const offered = useOffered(scripts, open);
  const { catalogue } = offered;
  const fitting = searchStages(catalogue, text);
  const found = fitting.filter(({ runs }) => offlineToo || runs === 'live');
  const where = useAppSelector(whereToAdd);

  const add = (definition: Stage) => {
    const { document } = store.getState().chain.present;
    const selectedPlace = placeIn(document, selected);
    const index = selectedPlace && selectedPlace.branchId === branchId ? selectedPlace.index + 1 : Infinity;
    const place = { branchId, index };
    const script = offered.scriptOf(definition);
    const stage = script
      ? withScriptStage(BUILT_INS, document, script).stage
      : newStage(BUILT_INS.for(document), document, catalogue.nameOf(definition));
    const added = script ? edits.insertScript(BUILT_INS, script, place) : edits.insertStage(BUILT_INS, stage, place);
    if (dispatch(edit(added))) dispatch(stageSelected(stage.id));
    onOpenChange(false);
  };

  return (
    <Dialog.Root
      open={open}
      onOpenChange={(details) => onOpenChange(details.open)}
      onExitComplete={() => {
        setText('');
        dispatch(addToSet(null));
      }}
      placement="top"
      initialFocusEl={() => input.current}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet" maxWidth="34rem">
            <Dialog.Header pb="1">
              <Dialog.Title>{where === undefined ? 'Add a stage' : `Add a stage to ${where}`}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="4">
              <Input
                ref={input}
                role="combobox"
                aria-label="What should happen to the sound?"
                aria-expanded="true"
                aria-controls="found-stages"
                aria-activedescendant={found[marked] ? `found-${marked}` : undefined}
                placeholder="What should happen? backwards, church, muffled, louder …"
                value={text}
                onChange={(event) => {
                  setText(event.currentTarget.value);
                  setMarked(0);
                }}
                onKeyDown={(event) => {
                  if (event.key === 'ArrowDown') mark(Math.min(found.length - 1, marked + 1));
                  else if (event.key === 'ArrowUp') mark(Math.max(0, marked - 1));
                  else if (event.key === 'Enter' && found[marked]) add(found[marked]);
                  else return;
                  event.preventDefault();
                }}
              />
              <Stack
                id="found-stages"
                role="listbox"
                aria-label="Stages"
                tabIndex={0}
                gap="0"
                mt="3"
                maxHeight="60vh"
                overflowY="auto"
              >
                {found.map((stage, index) => (
                  <Box
                    key={stage.kind === SCRIPT_KIND ? `script ${index}` : stage.kind}
                    id={`found-${index}`}
                    role="option"
                    aria-selected={index === marked}
                    bg={index === marked ? 'shade' : 'transparent'}
                    px="3"
                    py="2"
                    borderBottomWidth="1px"
                    borderColor="rule"
                    cursor="pointer"
                    onPointerEnter={() => setMarked(index)}
                    onClick={() => add(stage)}
                  >
                    <HStack justify="space-between">
                      <Text fontWeight="600">{stage.title}</Text>
                      <HStack color="faded" fontSize="xs">
                        <FamilyMark family={stage.family} />
                        {stage.kind === SCRIPT_KIND && <span>script</span>}
                        {stage.runs === 'live' && stage.steps && <span>{stepsText(stage.steps)}</span>}
                        <span>{stage.runs === 'offline' ? 'offline' : 'real time'}</span>
                      </HStack>
                    </HStack>
                    <Text fontSize="sm" color="faded">
                      {stage.summary}
                    </Text>
                  </Box>
                ))}
              </Stack>
              {found.length === 0 && (
                <NothingFound
                  {...{ text, catalogue }}
                  offline={fitting[0]}
                  reading={offered.reading}
                  onText={setText}
                />
              )}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

interface NothingFoundProps {
  readonly text: string;
  readonly catalogue: Catalogue;
  /** A stage that fits, but not here, since it needs the whole sound. */
  readonly offline: Stage | undefined;
  /** True while scripts are still being read. */
  readonly reading: boolean;
  readonly onText: (text: string) => void;
}

function NothingFound({ text, catalogue, offline, reading, onText }: NothingFoundProps) {
  if (offline)
    return (
      <Text mt="3">
        {offline.title} cannot stand here: not inside a loop, as it needs the whole sound. Put it before or after.
      </Text>
    );
  if (reading) return <Text mt="3">Looking through the scripts, too …</Text>;
  const meant = didYouMean(catalogue, text);
  return (
    <Text mt="3">
      No stage does that.{' '}
      {meant ? (
        <>
          Did you mean{' '}
          <Button size="xs" variant="outline" onClick={() => onText(meant)}>
            {meant}
          </Button>
          ?
        </>
      ) : (
        'Try another word for what should be heard.'
      )}
    </Text>
  );
}
