import { Box, Button, Flex, Heading, HStack, Input, Menu, Stack, Switch, Text } from '@chakra-ui/react';
import { MainPortal } from '../parts/MainPortal.tsx';
import { ChevronDown, ChevronRight, Plus, X } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import {
  BUILT_INS,
  MODULATORS,
  labelOf,
  modulatorOf,
  type Curve,
  type Note,
  type SettingValue,
} from '@hexenkessel/core/stages';
import { modulatorTitle, type ChainDocument, type ModulatorDocument, edits } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { useRendered } from '../cascade/useRenderer.ts';
import { useShown } from '../chain/shownChain.ts';
import { edit } from '../chain/edit.ts';
import { CurveEditor } from '../parameters/curve/CurveEditor.tsx';
import { ParameterRow } from '../parameters/ParameterRow.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { NotesRoll } from './NotesRoll.tsx';
import { RouteTable } from './RouteTable.tsx';
import { StepBars } from './StepBars.tsx';
import { TraceLine } from './TraceLine.tsx';

/** All that moves by itself, and what it moves. */
export function MovementTab() {
  const document = useShown((chain) => chain);
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState<string>();
  const { modulators } = document;
  return (
    <Stack gap="2" height="100%" minHeight="0">
      <Flex justify="space-between" align="center">
        <Text fontSize="sm" color="faded">
          {modulators.length === 0
            ? 'No modulators yet. Press M on a row, or add a modulator here and choose what it modulates.'
            : `${modulators.length} ${modulators.length === 1 ? 'modulator' : 'modulators'}, ${document.routes.length} ${document.routes.length === 1 ? 'route' : 'routes'}.`}
        </Text>
        <Menu.Root>
          <Menu.Trigger asChild>
            <Button size="2xs" variant="outline" borderColor="rule" flexShrink={0}>
              <Plus size={13} /> modulator
            </Button>
          </Menu.Trigger>
          <MainPortal>
            <Menu.Positioner>
              <Menu.Content bg="sheet" maxWidth="320px">
                {MODULATORS.map(({ kind, title, summary }) => (
                  <Menu.Item
                    key={kind}
                    value={kind}
                    onClick={() => dispatch(edit(edits.addModulator(BUILT_INS, kind)))}
                  >
                    <Box>
                      <Text fontWeight="600">{title}</Text>
                      <Text fontSize="xs" color="faded">
                        {summary}
                      </Text>
                    </Box>
                  </Menu.Item>
                ))}
              </Menu.Content>
            </Menu.Positioner>
          </MainPortal>
        </Menu.Root>
      </Flex>
      <Box overflowY="auto" flex="1" minHeight="0" pr="1">
        {modulators.map((modulator) => (
          <ModulatorCard
            key={modulator.id}
            modulator={modulator}
            document={document}
            open={open === modulator.id || (open === undefined && modulators.length === 1)}
            onOpen={() => setOpen(open === modulator.id ? '' : modulator.id)}
          />
        ))}
        {document.routes.length > 0 && <RouteTable document={document} />}
      </Box>
    </Stack>
  );
}

const settingsText = (count: number) => (count === 1 ? 'one parameter' : `${count || 'no'} parameters`);

interface CardProps {
  readonly modulator: ModulatorDocument;
  readonly document: ChainDocument;
  readonly open: boolean;
  readonly onOpen: () => void;
}

/** One modulator: its name, its trace, and, opened, its rows. */
function ModulatorCard({ modulator, document, open, onOpen }: CardProps) {
  const dispatch = useAppDispatch();
  const definition = modulatorOf(modulator.kind);
  const title = modulatorTitle(modulator);
  const { id } = modulator;
  const [explained, setExplained] = useState<string>();
  const change = useCallback(
    (key: string, value: SettingValue, gesture?: string) =>
      dispatch(edit(edits.setSetting(BUILT_INS, `${id}.${key}`, value), gesture && `${gesture} ${id} ${key}`)),
    [dispatch, id],
  );
  const shown = explained === undefined ? undefined : definition.params[explained];
  const rows = useMemo(() => Object.entries(definition.params), [definition]);
  const seconds = useRendered(({ sourceFrames, sampleRate }) => sourceFrames / sampleRate);
  const backdrop = useRendered(({ rows }) => rows.source);
  return (
    <Box borderBottomWidth="1px" borderColor="rule" pb="1" mb="1" data-modulator={id}>
      <Flex align="center" gap="1">
        <IconAction
          label={open ? `Collapse ${title}` : `Expand ${title}`}
          aria-expanded={open}
          minWidth="24px"
          height="24px"
          onClick={onOpen}
        >
          {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </IconAction>
        <Heading as="h2" size="sm" flex="1" minWidth="0">
          <Input
            aria-label={`Name of ${id}`}
            variant="flushed"
            size="xs"
            placeholder={definition.title}
            _placeholder={{ color: 'ink', opacity: 1 }}
            value={modulator.name}
            maxLength={80}
            onChange={(event) => {
              const name = event.currentTarget.value;
              dispatch(edit(edits.nameModulator(id, name), `name ${id}`));
            }}
            onKeyDown={(event) => event.stopPropagation()}
          />
        </Heading>
        <Box width="150px" height="24px" flexShrink={0}>
          <TraceLine id={id} kind={modulator.kind} />
        </Box>
        <HStack gap="0" flexShrink={0}>
          <Switch.Root
            size="xs"
            checked={modulator.on}
            onCheckedChange={({ checked }) => dispatch(edit(edits.switchModulator(id, checked)))}
          >
            <Switch.HiddenInput aria-label={`${title} switched on`} />
            <Switch.Control />
          </Switch.Root>
          <IconAction
            label={`Remove ${title}`}
            minWidth="24px"
            height="24px"
            onClick={() => dispatch(edit(edits.removeModulator(id)))}
          >
            <X size={13} />
          </IconAction>
        </HStack>
      </Flex>
      {open && (
        <Box pl="2">
          {rows.map(([key, param]) =>
            param.type === 'curve' ? (
              <CurveEditor
                key={key}
                label={labelOf(key, param)}
                param={param}
                value={modulator.settings[key] as Curve}
                timing={document.timing}
                seconds={seconds}
                backdrop={backdrop}
                onChange={(next, gesture) => change(key, next, gesture)}
              />
            ) : param.type === 'list' ? (
              <StepBars
                key={key}
                values={modulator.settings[key] as readonly number[]}
                most={param.most}
                onChange={(next, gesture) => change(key, next, gesture)}
              />
            ) : param.type === 'notes' && (param.heard?.(modulator.settings) ?? true) ? (
              <NotesRoll
                key={key}
                notes={modulator.settings[key] as readonly Note[]}
                timing={document.timing}
                onChange={(next) => change(key, next)}
              />
            ) : null,
          )}
          {rows.map(([key, param]) => (
            <ParameterRow
              key={key}
              name={key}
              param={param}
              value={modulator.settings[key]}
              timing={document.timing}
              target={`${id}.${key}`}
              onChange={change}
              onExplain={setExplained}
            />
          ))}
          <Text fontSize="xs" color="faded" minHeight="32px" pt="1">
            {shown && explained !== undefined
              ? `${labelOf(explained, shown)}: ${shown.doc}`
              : `${definition.summary} It modulates ${settingsText(document.routes.filter(({ from }) => from === id).length)}.`}
          </Text>
        </Box>
      )}
    </Box>
  );
}
