import { Box, Button, Flex, Grid, NativeSelect, Switch, Text } from '@chakra-ui/react';
import { memo } from 'react';
import { showOtherUnits, type TimeValue, type Timing } from '@hexenkessel/core/model';
import {
  canonical,
  isScaled,
  labelOf,
  parseSetting,
  printSetting,
  shownOption,
  settingAt,
  stepped,
  toPlace,
  type Param,
  type SettingValue,
  type SoundRef,
} from '@hexenkessel/core/stages';
import { Tip } from '../parts/Tip.tsx';
import { SoundChoice } from './SoundChoice.tsx';
import { MovedMarks } from '../movement/MovedMarks.tsx';
import { RowMarks, useRowMarks, type Marks } from '../movement/RowMarks.tsx';
import { RowMenuButton, isTyping, useRowTools } from '../movement/rowTools.tsx';
import { usePinHandle } from '../panel/PinDrag.tsx';
import { Scale } from './Scale.tsx';
import { TypedValue } from './TypedValue.tsx';

interface Props {
  readonly name: string;
  readonly param: Param;
  readonly value: SettingValue;
  readonly timing: Timing;
  /** Takes a new value; false when the chain does not allow it. */
  readonly onChange: (name: string, value: SettingValue, gesture?: string) => boolean;
  readonly onExplain: (name: string) => void;
  /** Names it in the chain, `hall.decay`; without, nothing can drive or move it. */
  readonly target?: string | undefined;
}

/** One line of the ledger: name, scale, the value to type, the same in other units. */
export const ParameterRow = memo(function ParameterRow(props: Props) {
  const { name, param, value, timing, target, onChange, onExplain } = props;
  const label = labelOf(name, param);
  const tools = useRowTools();
  const marks = useRowMarks(target);
  const handle = usePinHandle(target, label);
  return (
    <Grid
      templateColumns="124px 1fr 88px 22px"
      data-row-of={name}
      columnGap="1.5"
      alignItems="center"
      minHeight="28px"
      borderBottomWidth="1px"
      borderColor="rule"
      onFocus={() => onExplain(name)}
      onPointerEnter={() => onExplain(name)}
      onKeyDown={(event) => {
        if (target !== undefined && !isTyping(event.target) && tools.key(event.key, target)) event.stopPropagation();
      }}
    >
      <Flex fontSize="sm" align="center" gap="1" minWidth="0">
        <Text truncate title={label} cursor={target === undefined ? undefined : 'grab'} touchAction="none" {...handle}>
          {label}
        </Text>
        <RowMarks marks={marks} />
      </Flex>
      <RowBody
        label={label}
        param={param}
        value={value}
        timing={timing}
        target={target}
        marks={marks}
        onChange={(next, gesture) => onChange(name, next, gesture)}
      />
      {target === undefined ? <span /> : <RowMenuButton label={label} target={target} />}
    </Grid>
  );
});

function RowBody({
  label,
  param,
  value,
  timing,
  target,
  marks,
  onChange,
}: Pick<Props, 'param' | 'value' | 'timing' | 'target'> & {
  label: string;
  marks: Marks;
  onChange: (value: SettingValue, gesture?: string) => boolean;
}) {
  if (param.type === 'toggle' && param.act) {
    const on = value === true;
    return (
      <Button
        size="sm"
        variant={on ? 'solid' : 'outline'}
        colorPalette="copperInk"
        borderColor="copper"
        gridColumn="2 / 4"
        my="1"
        aria-label={`${label}: ${on ? param.act.off : param.act.on}`}
        aria-keyshortcuts="A"
        onClick={() => onChange(!on)}
      >
        {on ? param.act.off : param.act.on}
      </Button>
    );
  }
  if (param.type === 'toggle') {
    return (
      <Switch.Root
        size="sm"
        checked={value === true}
        onCheckedChange={({ checked }) => onChange(checked)}
        gridColumn="2 / 4"
      >
        <Switch.HiddenInput aria-label={label} />
        <Switch.Control />
        <Switch.Label fontFamily="mono">{value === true ? 'on' : 'off'}</Switch.Label>
      </Switch.Root>
    );
  }
  if (param.type === 'sound') {
    return (
      <Box gridColumn="2 / 4">
        <SoundChoice label={label} value={value as SoundRef} branches={param.branches === true} onChange={onChange} />
      </Box>
    );
  }
  if (param.type === 'curve' || param.type === 'list' || param.type === 'notes') {
    const written = printSetting(param, value);
    return (
      <Tip text={written}>
        <Box gridColumn="2 / 4">
          <TypedValue
            label={label}
            text={written}
            onCommit={(text) => onChange(parseSetting(param, text, timing.meter))}
          />
        </Box>
      </Tip>
    );
  }
  if (!isScaled(param)) {
    return (
      <Box gridColumn="2 / 4">
        <NativeSelect.Root size="xs" variant="plain">
          <NativeSelect.Field
            aria-label={label}
            height="24px"
            fontFamily="mono"
            value={String(value)}
            onChange={(event) => onChange(event.currentTarget.value)}
          >
            {param.options.map((option) => (
              <option key={option} value={option}>
                {shownOption(param, option)}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Box>
    );
  }
  const now = canonical(param, value, timing);
  const written = printSetting(param, value);
  const also = param.type === 'time' && value !== 0 ? showOtherUnits(value as TimeValue, timing, 48000) : '';
  return (
    <>
      <Flex align="center" gap="1.5" minWidth="0">
        <Box flex="1" minWidth="0">
          <Scale
            label={label}
            place={toPlace(param, now)}
            defaultPlace={toPlace(param, canonical(param, param.default, timing))}
            min={param.min}
            max={param.max}
            now={now}
            text={written}
            onPlace={(place, gesture) => onChange(settingAt(param, place, value, timing), gesture)}
            onStep={(steps) => onChange(stepped(param, value, steps, timing), `key ${label}`)}
            onDefault={() => onChange(param.default)}
            used={marks.used}
          >
            {target !== undefined && marks.moved && (
              <MovedMarks target={target} param={param} place={toPlace(param, now)} />
            )}
          </Scale>
        </Box>
        {also && (
          <Tip text={also}>
            <Text fontSize="xs" fontFamily="mono" color="faded" truncate width="74px" flexShrink={0} tabIndex={-1}>
              {also.split(' · ')[0]}
            </Text>
          </Tip>
        )}
      </Flex>
      <TypedValue
        label={`${label}, value`}
        text={written}
        textAlign="end"
        onCommit={(text) => onChange(parseSetting(param, text, timing.meter))}
      />
    </>
  );
}
