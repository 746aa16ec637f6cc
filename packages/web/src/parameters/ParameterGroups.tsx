import { Box, Text, chakra } from '@chakra-ui/react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo, useCallback, useId, type KeyboardEvent } from 'react';
import { shallowEqual } from 'react-redux';
import type { Timing } from '@hexenkessel/core/model';
import { labelOf, printSetting, type Param, type SettingValue } from '@hexenkessel/core/stages';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { ParameterRow } from './ParameterRow.tsx';
import { groupsLeft, openGroups } from './groupsSlice.ts';
import { stepThroughRows } from './rowSteps.ts';

export type Row = readonly [key: string, param: Param, value: SettingValue];

export interface RowGroup {
  /** Empty for the only one of a stage whose parameters are not parted. */
  readonly title: string;
  readonly rows: readonly Row[];
}

interface Props {
  /** Kind of the stage: what is open is kept for it. */
  readonly kind: string;
  readonly stageId: string;
  readonly groups: readonly RowGroup[];
  readonly timing: Timing;
  readonly onChange: (key: string, value: SettingValue, gesture?: string) => boolean;
  readonly onExplain: (key: string) => void;
}

/** The parameters of a stage under heads that fold. */
export function ParameterGroups({ kind, stageId, groups, timing, onChange, onExplain }: Props) {
  const dispatch = useAppDispatch();
  const open = useAppSelector((state) => openGroups(state.groups, kind, groups), sameTitles);
  const turn = useCallback(
    (title: string) =>
      dispatch(
        groupsLeft({ kind, open: open.includes(title) ? open.filter((one) => one !== title) : [...open, title] }),
      ),
    [dispatch, kind, open],
  );
  return (
    <Box onKeyDown={(event: KeyboardEvent<HTMLElement>) => stepThroughRows(event)} data-rows>
      {groups.map((group) => (
        <Group
          key={group.title}
          {...{ kind, stageId, group, timing, onChange, onExplain }}
          open={group.title === '' || open.includes(group.title)}
          onTurn={turn}
        />
      ))}
    </Box>
  );
}

interface GroupProps extends Omit<Props, 'groups'> {
  readonly group: RowGroup;
  readonly open: boolean;
  readonly onTurn: (title: string) => void;
}

const Group = memo(
  function Group({ group, open, onTurn, stageId, timing, onChange, onExplain }: GroupProps) {
    const id = useId();
    const rows = open
      ? group.rows.map(([key, param, value]) => (
          <ParameterRow
            key={key}
            name={key}
            param={param}
            value={value}
            timing={timing}
            target={`${stageId}.${key}`}
            onChange={onChange}
            onExplain={onExplain}
          />
        ))
      : null;
    if (group.title === '') return rows;
    return (
      <div role="group" aria-labelledby={id}>
        <GroupHead id={id} title={group.title} open={open} summary={open ? '' : summaryOf(group)} onTurn={onTurn} />
        {rows}
      </div>
    );
  },
  ({ group: a, ...one }, { group: b, ...other }) => sameRows(a, b) && shallowEqual(one, other),
);

const sameRows = (a: RowGroup, b: RowGroup) =>
  a.title === b.title &&
  a.rows.length === b.rows.length &&
  a.rows.every((row, n) => row.every((part, at) => part === b.rows[n][at]));

interface HeadProps {
  readonly id: string;
  readonly title: string;
  readonly open: boolean;
  /** What is told of a group that is closed: what differs from the default, else what is in it. */
  readonly summary: string;
  readonly onTurn: (title: string) => void;
}

const GroupHead = memo(function GroupHead({ id, title, open, summary, onTurn }: HeadProps) {
  const Arrow = open ? ChevronDown : ChevronRight;
  return (
    <chakra.button
      type="button"
      aria-expanded={open}
      data-group-head
      display="flex"
      alignItems="center"
      gap="1"
      width="100%"
      minHeight="26px"
      textAlign="start"
      cursor="pointer"
      borderBottomWidth={open ? '0' : '1px'}
      borderColor="rule"
      _hover={{ bg: 'shade' }}
      onClick={() => onTurn(title)}
    >
      <Arrow size={14} aria-hidden />
      <Text as="span" id={id} fontSize="sm" fontFamily="heading" color="copper" flexShrink={0}>
        {title}
      </Text>
      {!open && (
        <Text as="span" fontSize="xs" color="faded" fontFamily="mono" truncate ms="1">
          {summary}
        </Text>
      )}
    </chakra.button>
  );
});

function summaryOf({ rows }: RowGroup): string {
  const changed = rows.filter(([, param, value]) => !isDefault(param, value));
  return changed.length > 0
    ? changed.map(([key, param, value]) => `${labelOf(key, param)} ${printSetting(param, value)}`).join(' · ')
    : rows.map(([key, param]) => labelOf(key, param)).join(', ');
}

const isDefault = (param: Param, value: SettingValue) => JSON.stringify(value) === JSON.stringify(param.default);

const sameTitles = (before: readonly string[], after: readonly string[]) => before.join('\n') === after.join('\n');
