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
} from '@hexenkessel/core/stages';
import { branchesBefore, setSetting, type ChainDocument, type StageDocument } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { CascadeSource, CascadeState } from '../cascade/useCascade.ts';
import { edit, editStage } from '../chain/edit.ts';
import type { SetValues } from '../pictures/CurvesView.tsx';
import { StagePictureView } from '../pictures/StagePictureView.tsx';
import { ClipPictureView } from '../pictures/ClipPictureView.tsx';
import { useClipPicture } from '../pictures/useClipPicture.ts';
import { usePicture } from '../pictures/usePicture.ts';
import { FamilyMark } from '../parts/family.tsx';
import { LeadingBranches } from './SoundChoice.tsx';
import { CurveEditor } from './curve/CurveEditor.tsx';
import { showGroup } from './showGroup.ts';
import { ParameterGroups, type Row, type RowGroup } from './ParameterGroups.tsx';
import { useCatalogue } from '../chain/useCatalogue.ts';

/** What goes into a stage at the top of the chain. */
function inputRow({ stages }: ChainDocument, stageId: string, { rows }: CascadeState) {
  const before = stages
    .slice(
      0,
      stages.findIndex(({ id }) => id === stageId),
    )
    .findLast(({ on }) => on);
  return before ? rows[`stage:${before.id}`] : rows.source;
}

/** The rows of the chosen stage, and what is heard when the row at hand rises. */
interface Props {
  readonly stage: StageDocument;
  /** Where it plays, for pictures that move. */
  readonly position?: () => number | undefined;
  /** Of the source. */
  readonly seconds: number;
  readonly cascade: CascadeState & CascadeSource;
}

export const StageInspector = memo(function StageInspector({ stage, position, seconds, cascade }: Props) {
  const dispatch = useAppDispatch();
  const timing = useAppSelector((state) => state.chain.present.document.timing);
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
        edit(
          `${labelOf(key, definition.params[key] ?? { doc: '', type: 'toggle', default: false })} of ${definition.title}`,
          (before) => setSetting(BUILT_INS, before, `${stage.id}.${key}`, value),
          gesture && `${gesture} ${stage.id} ${key}`,
        ),
      ),
    [dispatch, stage.id, definition],
  );
  const document = useAppSelector((state) => state.chain.present.document);
  const leading = useMemo(() => branchesBefore(BUILT_INS, document, stage.id), [document, stage.id]);
  const picture = usePicture(stage, timing, document.scripts);
  const clipPicture = useClipPicture(document.scripts, cascade, stage, timing);
  const setMany = useCallback<SetValues>(
    (values, gesture) => {
      for (const key of Object.keys(values)) dispatch(showGroup(kind, latestGroups.current, key));
      dispatch(
        editStage(
          stage.id,
          `${definition.title} in its picture`,
          (before) => ({ ...before, settings: { ...before.settings, ...values } }),
          `${gesture} ${stage.id}`,
        ),
      );
    },
    [dispatch, stage.id, kind, definition],
  );
  const shown = rows.find(([key]) => key === explained);
  return (
    <Stack gap="2" height="100%" minHeight="0">
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
            value={stage.name}
            maxLength={80}
            onChange={(event) => {
              const name = event.currentTarget.value;
              dispatch(
                editStage(
                  stage.id,
                  `name of ${definition.title}`,
                  (before) => ({ ...before, name }),
                  `name ${stage.id}`,
                ),
              );
            }}
            onKeyDown={(event) => event.stopPropagation()}
          />
        </Heading>
        <HStack gap="2" fontSize="xs" color="faded" flexShrink={0}>
          <FamilyMark family={definition.family} />
          <Text>{definition.runs === 'offline' ? 'offline' : 'real time'}</Text>
        </HStack>
      </Flex>
      <Flex justify="space-between" gap="3">
        <Text fontSize="sm" color="faded">
          {definition.summary}
        </Text>
        <Switch.Root
          size="sm"
          checked={stage.on}
          onCheckedChange={({ checked }) =>
            dispatch(
              editStage(stage.id, `${definition.title} ${checked ? 'on' : 'off'}`, (before) => ({
                ...before,
                on: checked,
              })),
            )
          }
        >
          <Switch.HiddenInput aria-label={`${definition.title} switched on`} />
          <Switch.Control />
        </Switch.Root>
      </Flex>
      {rows.map(([key, param, value]) =>
        param.type === 'curve' ? (
          <CurveEditor
            key={key}
            label={labelOf(key, param)}
            param={param}
            value={value as Curve}
            timing={timing}
            seconds={seconds}
            backdrop={inputRow(document, stage.id, cascade)}
            onChange={(next, gesture) => change(key, next, gesture)}
          />
        ) : null,
      )}
      {clipPicture && (
        <ClipPictureView picture={clipPicture} onCuts={(cuts, gesture) => void change('cuts', cuts, gesture)} />
      )}
      {picture && <StagePictureView picture={picture} onSet={setMany} position={position} />}
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
      <Box
        minHeight="58px"
        fontSize="sm"
        color="faded"
        borderTopWidth="1px"
        borderColor="rule"
        pt="1"
        aria-live="polite"
      >
        {shown ? (
          <>
            <Text as="span" color="ink" fontWeight="600">
              {labelOf(shown[0], shown[1])}:
            </Text>{' '}
            {shown[1].doc}
          </>
        ) : (
          'Point at a row to read what is heard when it rises. Type values such as 8 beats, 1/4d, 250 ms, 1.2 kHz.'
        )}
      </Box>
    </Stack>
  );
});
