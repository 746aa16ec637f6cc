import { Box, Flex, Heading, HStack, Input, Stack, Switch, Text } from '@chakra-ui/react';
import { memo, useCallback, useMemo, useRef, useState } from 'react';
import {
  BUILT_INS,
  STAGE_PARAMS,
  groupsOf,
  labelOf,
  paramUnder,
  type Curve,
  type SettingValue,
  type Stage,
} from '@hexenkessel/core/stages';
import { branchesBefore, type StageDocument, edits } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { rowBefore } from '../cascade/rowsBefore.ts';
import { useRendered } from '../cascade/useRenderer.ts';
import { usePlayback } from '../playback/usePlayback.ts';
import { edit } from '../chain/edit.ts';
import type { SetValues } from '../pictures/setValues.ts';
import { MovingPicture } from '../pictures/MovingPicture.tsx';
import { ClipPictureView } from '../pictures/ClipPictureView.tsx';
import { useClipPicture } from '../pictures/useClipPicture.ts';
import { usePicture } from '../pictures/usePicture.ts';
import { FamilyMark } from '../parts/family.tsx';
import { LeadingBranches } from './SoundChoice.tsx';
import { CurveEditor } from './curve/CurveEditor.tsx';
import { StageFile } from './StageFile.tsx';
import { StageSays } from './StageSays.tsx';
import { showGroup } from './showGroup.ts';
import { ParameterGroups, type Row, type RowGroup } from './ParameterGroups.tsx';
import { laterPart } from '../parts/laterPart.tsx';
import { useCatalogue } from '../chain/useCatalogue.ts';

const ScriptNote = laterPart(async () => (await import('../scripts/ScriptOfStage.tsx')).ScriptOfStage);

/** The rows of the chosen stage, and what is heard when the row at hand rises. */
export const StageInspector = memo(function StageInspector({ stage }: { readonly stage: StageDocument }) {
  const dispatch = useAppDispatch();
  const playback = usePlayback();
  const timing = useAppSelector((state) => state.chain.present.document.timing);
  const seconds = useRendered(({ sourceFrames, sampleRate }) => sourceFrames / sampleRate);
  const catalogue = useCatalogue();
  const definition = catalogue.of(stage);
  const [explained, setExplained] = useState<string>();
  const groups: readonly RowGroup[] = [
    ...groupsOf(definition).map(({ title, params }) => ({
      title,
      rows: params.map(([key, param]): Row => [key, paramUnder(param, stage.settings), stage.settings[key]]),
    })),
    {
      title: definition.groups ? 'mix and output' : '',
      rows: [
        ['mix', STAGE_PARAMS.mix, stage.mix],
        ['level', STAGE_PARAMS.level, stage.level],
      ],
    },
  ];
  const kind = stage.script ?? stage.kind;
  const latestGroups = useRef(groups);
  latestGroups.current = groups;
  const rows = groups.flatMap((group) => group.rows);
  const change = useCallback(
    (key: string, value: SettingValue, gesture?: string) =>
      dispatch(
        edit(edits.setSetting(BUILT_INS, `${stage.id}.${key}`, value), gesture && `${gesture} ${stage.id} ${key}`),
      ),
    [dispatch, stage.id],
  );
  const document = useAppSelector((state) => state.chain.present.document);
  const leading = useMemo(() => branchesBefore(BUILT_INS, document, stage.id), [document, stage.id]);
  const picture = usePicture(stage, timing, document.scripts);
  const clipPicture = useClipPicture(document.scripts, stage, timing);
  const setMany = useCallback<SetValues>(
    (values, gesture) => {
      let changed: readonly string[] = [];
      dispatch(
        edit(
          edits.changeInPicture(BUILT_INS, stage.id, (settings) => {
            const next = typeof values === 'function' ? values(settings) : values;
            changed = Object.keys(next);
            return next;
          }),
          `${gesture} ${stage.id}`,
        ),
      );
      for (const key of changed) dispatch(showGroup(kind, latestGroups.current, key));
    },
    [dispatch, stage.id, kind],
  );
  const input = useRendered((state) => rowBefore(document.stages, stage.id, state.rows));
  const playing = useMemo(() => ({ id: stage.id, params: definition.params }), [stage.id, definition]);
  const position = useCallback(() => playback.position, [playback]);
  const shown = rows.find(([key]) => key === explained);
  return (
    <Stack gap="2" height="100%" minHeight="0">
      <StageHead id={stage.id} name={stage.name} on={stage.on} definition={definition} />
      {stage.script !== undefined && <ScriptNote.Part stage={stage} />}
      <StageSays stage={stage} document={document} frames={input && input.end - input.start} />
      {rows.map(([key, param, value]) =>
        param.type === 'curve' ? (
          <CurveEditor
            key={key}
            label={labelOf(key, param)}
            param={param}
            value={value as Curve}
            timing={timing}
            seconds={seconds}
            backdrop={input}
            onChange={(next, gesture) => change(key, next, gesture)}
          />
        ) : null,
      )}
      {clipPicture && (
        <ClipPictureView picture={clipPicture} onCuts={(cuts, gesture) => void change('cuts', cuts, gesture)} />
      )}
      {picture && (
        <MovingPicture
          key={stage.id}
          stage={stage}
          timing={timing}
          scripts={document.scripts}
          picture={picture}
          onSet={setMany}
          position={position}
          playing={playing}
        />
      )}
      <Box overflowY="auto" flex="1" minHeight="0" borderTopWidth="1px" borderColor="rule" pr="1">
        <LeadingBranches value={leading}>
          <ParameterGroups
            kind={kind}
            stageId={stage.id}
            groups={groups}
            timing={timing}
            onChange={change}
            onExplain={setExplained}
          />
        </LeadingBranches>
      </Box>
      <Explanation label={shown && labelOf(shown[0], shown[1])} text={shown?.[1].doc} />
    </Stack>
  );
});

interface HeadProps {
  readonly id: string;
  readonly name: string;
  readonly on: boolean;
  readonly definition: Stage;
}

/** What the stage is called, what it does, and whether it is on. */
const StageHead = memo(function StageHead({ id, name, on, definition }: HeadProps) {
  const dispatch = useAppDispatch();
  return (
    <>
      <Flex justify="space-between" align="baseline" gap="2">
        <Heading as="h2" size="lg" flex="1">
          <Input
            aria-label="Name of the stage"
            variant="flushed"
            size="sm"
            fontSize="lg"
            placeholder={definition.title}
            _placeholder={{ color: 'ink', opacity: 1 }}
            fontFamily="heading"
            value={name}
            maxLength={80}
            onChange={(event) => {
              const typed = event.currentTarget.value;
              dispatch(edit(edits.nameStage(BUILT_INS, id, typed), `name ${id}`));
            }}
            onKeyDown={(event) => event.stopPropagation()}
          />
        </Heading>
        <HStack gap="2" fontSize="xs" color="faded" flexShrink={0}>
          <FamilyMark family={definition.family} />
          <Text>{definition.runs === 'offline' ? 'offline' : 'real time'}</Text>
          <StageFile id={id} title={name || definition.title} />
        </HStack>
      </Flex>
      <Flex justify="space-between" gap="3">
        <Text fontSize="sm" color="faded">
          {definition.summary}
        </Text>
        <Switch.Root
          size="sm"
          checked={on}
          onCheckedChange={({ checked }) => dispatch(edit(edits.switchStage(BUILT_INS, id, checked)))}
        >
          <Switch.HiddenInput aria-label={`${definition.title} switched on`} />
          <Switch.Control />
        </Switch.Root>
      </Flex>
    </>
  );
});

/** What is heard when the row at hand rises. */
const Explanation = memo(function Explanation({
  label,
  text,
}: {
  label: string | undefined;
  text: string | undefined;
}) {
  return (
    <Box minHeight="58px" fontSize="sm" color="faded" borderTopWidth="1px" borderColor="rule" pt="1" aria-live="polite">
      {label !== undefined ? (
        <>
          <Text as="span" color="ink" fontWeight="600">
            {label}:
          </Text>{' '}
          {text}
        </>
      ) : (
        'Point at a row to read what is heard when it rises. Type values such as 8 beats, 1/4d, 250 ms, 1.2 kHz.'
      )}
    </Box>
  );
});
