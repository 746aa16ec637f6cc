import { Box, Button, Flex, Grid, HStack, Input, Switch, Text, Textarea } from '@chakra-ui/react';
import { ChevronDown, ChevronUp, X } from 'lucide-react';
import { useState } from 'react';
import { parseNumber } from '@hexenkessel/core/model';
import { BUILT_INS, parseSetting, printSetting } from '@hexenkessel/core/stages';
import {
  findTarget,
  sameNamed,
  type ChainDocument,
  type ControlDocument,
  type Driven,
  edits,
} from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { editControl } from './editControl.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Tip } from '../parts/Tip.tsx';
import { IconAction } from '../parts/IconAction.tsx';

interface Props {
  readonly control: ControlDocument;
  readonly chain: ChainDocument;
}

/** Everything about one control: what it is called, how it counts, what it drives. */
export function ControlEditor({ control, chain }: Props) {
  const dispatch = useAppDispatch();
  const { id, name } = control;
  const [explained, setExplained] = useState('');
  const change = (part: Partial<ControlDocument>, gesture?: string) =>
    dispatch(edit(edits.changeControl(BUILT_INS, id, part), gesture));
  const number = (label: string, key: 'min' | 'max' | 'step' | 'default' | 'bend') => (
    <Box>
      <Tip text={EXPLAINED[key]}>
        <Text fontSize="xs" color="faded">
          {label}
        </Text>
      </Tip>
      <TypedValue
        label={`${name}: ${label}`}
        aria-description={EXPLAINED[key]}
        text={printNumber(control[key])}
        borderColor="rule"
        onFocus={() => setExplained(EXPLAINED[key])}
        onCommit={(text) => {
          const value = parseNumber(text, [control.unit]);
          if (key === 'default') return change({ default: value });
          return dispatch(editControl(id, edits.changeScale(BUILT_INS, id, { [key]: value })));
        }}
      />
    </Box>
  );
  const index = chain.panel.findIndex((one) => one.id === id);
  const shift = (by: -1 | 1) => dispatch(edit(edits.moveControl(id, by)));
  return (
    <Box borderLeftWidth="3px" borderColor="copper" pl="2" pb="2" mb="1">
      <Grid templateColumns="1fr 1fr 56px" gap="1.5" alignItems="end">
        <Named label="name" value={name} onChange={(text) => change({ name: text }, `name ${id}`)} />
        <Named label="group" value={control.group} onChange={(text) => change({ group: text }, `group ${id}`)} />
        <Named label="unit" value={control.unit} onChange={(text) => change({ unit: text }, `unit ${id}`)} />
      </Grid>
      {sameNamed(chain.panel, control) && (
        <Text fontSize="xs" color="alarm" mt="1" role="status">
          Another control is called {name}, too: users cannot tell them apart.
        </Text>
      )}
      <Grid templateColumns="repeat(5, 1fr)" gap="1.5" mt="1">
        {number('min', 'min')}
        {number('max', 'max')}
        {number('default', 'default')}
        {number('step', 'step')}
        {number('curve', 'bend')}
      </Grid>
      {explained !== '' && (
        <Text fontSize="xs" color="faded" mt="1">
          {explained}
        </Text>
      )}
      <Box mt="1">
        <Text fontSize="xs" color="faded">
          value labels, from min to max, separated by commas
        </Text>
        <TypedValue
          label={`${name}: words`}
          text={control.words.join(', ') || 'none'}
          borderColor="rule"
          onCommit={(text) =>
            change({
              words:
                text.trim() === 'none'
                  ? []
                  : text
                      .split(',')
                      .map((word) => word.trim())
                      .filter(Boolean),
            })
          }
        />
      </Box>
      <Textarea
        aria-label={`${name}: what it does`}
        mt="1.5"
        size="xs"
        rows={2}
        placeholder="What it does, for those who use the chain"
        value={control.note}
        maxLength={2000}
        onChange={(event) => change({ note: event.currentTarget.value }, `note ${id}`)}
        onKeyDown={(event) => event.stopPropagation()}
      />
      {control.drives.length > 0 && (
        <Grid templateColumns={DRIVEN_COLUMNS} gap="1" mt="1.5" fontSize="xs" color="faded">
          <Text>drives</Text>
          <Text>from</Text>
          <Text>to</Text>
          <Text>curve</Text>
        </Grid>
      )}
      {control.drives.map((driven) => (
        <DrivenRow key={driven.target} driven={driven} control={control} chain={chain} />
      ))}
      {control.drives.length === 0 && (
        <Text fontSize="xs" color="faded" mt="1">
          No targets yet. Pin a parameter to it (P on its row), or let it modulate one.
        </Text>
      )}
      <Flex mt="1" justify="space-between" align="center">
        <Switch.Root size="xs" checked={control.locked} onCheckedChange={({ checked }) => change({ locked: checked })}>
          <Switch.HiddenInput aria-label={`${name}: locked`} />
          <Switch.Control />
          <Switch.Label fontSize="xs">locked in randomisation</Switch.Label>
        </Switch.Root>
        <HStack gap="0">
          <IconAction label={`${name} up`} disabled={index === 0} onClick={() => shift(-1)}>
            <ChevronUp size={14} />
          </IconAction>
          <IconAction label={`${name} down`} disabled={index === chain.panel.length - 1} onClick={() => shift(1)}>
            <ChevronDown size={14} />
          </IconAction>
          <Button
            size="2xs"
            variant="outline"
            borderColor="rule"
            onClick={() => dispatch(edit(edits.removeControl(id)))}
          >
            remove
          </Button>
        </HStack>
      </Flex>
    </Box>
  );
}

function Named({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <Box>
      <Text fontSize="xs" color="faded">
        {label}
      </Text>
      <Input
        aria-label={`Control: ${label}`}
        size="xs"
        height="24px"
        value={value}
        maxLength={40}
        onChange={(event) => onChange(event.currentTarget.value)}
        onKeyDown={(event) => event.stopPropagation()}
      />
    </Box>
  );
}

/** What the numbers of a control mean, where they are typed. */
const EXPLAINED = {
  min: 'The number at the start of its scale. What it drives stays; the number changes.',
  max: 'The number at the end of its scale. What it drives stays; the number changes.',
  default: 'Where it stands when a user of the chain resets it.',
  step: 'The numbers it can stand on, counted from min: 1 for whole ones, 0 for no steps.',
  bend: 'How its scale is spread, −1 to 1: 0 straight, above 0 finer at the start, below 0 finer at the end.',
} as const;

const printNumber = (value: number) => printSetting(PLAIN, Number(value.toPrecision(6)));
const PLAIN = { type: 'number', default: 0, min: 0, max: 0, curve: 'linear', doc: '' } as const;

const DRIVEN_COLUMNS = '1fr 74px 74px 40px 22px';

/** One setting that a control drives, from where to where. */
function DrivenRow({ driven, control, chain }: { driven: Driven; control: ControlDocument; chain: ChainDocument }) {
  const dispatch = useAppDispatch();
  const found = findTarget(BUILT_INS, chain, driven.target);
  if (!found) return null;
  const { param, owner, label } = found;
  const change = (part: Partial<Driven>) =>
    dispatch(editControl(control.id, edits.changeReach(BUILT_INS, control.id, driven.target, part)));
  const end = (key: 'from' | 'to') => (
    <TypedValue
      label={`${control.name}: ${label} ${key}`}
      text={printSetting(param, driven[key])}
      borderColor="rule"
      textAlign="end"
      onCommit={(text) => change({ [key]: parseSetting(param, text, chain.timing.meter) })}
    />
  );
  return (
    <Grid templateColumns={DRIVEN_COLUMNS} gap="1" mt="1" alignItems="center">
      <Text fontSize="xs" truncate title={`${owner}, ${label}`}>
        {owner}, {label}
      </Text>
      {end('from')}
      {end('to')}
      <TypedValue
        label={`${control.name}: curve of ${label}`}
        text={printNumber(driven.bend)}
        borderColor="rule"
        textAlign="end"
        onCommit={(text) => change({ bend: parseNumber(text) })}
      />
      <IconAction
        label={`Unpin ${label}`}
        minWidth="24px"
        height="22px"
        onClick={() => dispatch(edit(edits.unpin(BUILT_INS, driven.target)))}
      >
        <X size={12} />
      </IconAction>
    </Grid>
  );
}
