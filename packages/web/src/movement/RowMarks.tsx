import { HStack } from '@chakra-ui/react';
import { Lock, Pin, Spline, Waves } from 'lucide-react';
import { shallowEqual } from 'react-redux';
import { BUILT_INS, canonical, isScaled, toPlace } from '@hexenkessel/core/stages';
import { driverOf, findTarget } from '@hexenkessel/core/chain';
import { useAppSelector } from '../app/store.ts';
import { Tip } from '../parts/Tip.tsx';

/** What else acts on a setting than its row. */
export interface Marks {
  /** Name of the control that drives it. */
  readonly driver: string | undefined;
  /** The stretch of its scale that the control uses. */
  readonly used: readonly [number, number] | undefined;
  readonly moved: boolean;
  readonly drawn: boolean;
  readonly locked: boolean;
}

const NONE: Marks = { driver: undefined, used: undefined, moved: false, drawn: false, locked: false };

export function useRowMarks(target: string | undefined): Marks {
  const [driver, from, to, moved, drawn, locked] = useAppSelector((state) => {
    if (target === undefined) return [undefined, 0, 0, false, false, false] as const;
    const { document } = state.chain.present;
    const found = driverOf(document, target);
    const param = found && findTarget(BUILT_INS, document, target)?.param;
    const place = (end: 'from' | 'to') =>
      found && param && isScaled(param) ? toPlace(param, canonical(param, found.driven[end], document.timing)) : 0;
    return [
      found?.control.name,
      place('from'),
      place('to'),
      document.routes.some(({ to: moves, on }) => on && moves === target),
      document.lanes.some((lane) => lane.target === target && lane.on),
      document.locked.includes(target),
    ] as const;
  }, shallowEqual);
  if (target === undefined) return NONE;
  return { driver, used: driver === undefined ? undefined : [from, to], moved, drawn, locked };
}

/** Small signs beside a row's name; each says in words what it stands for. */
export function RowMarks({ marks: { driver, moved, drawn, locked } }: { readonly marks: Marks }) {
  if (driver === undefined && !moved && !drawn && !locked) return null;
  return (
    <HStack gap="0.5" flexShrink={0} color="copper">
      {driver !== undefined && (
        <Tip text={`Driven by the control ${driver}`}>
          <Pin size={11} aria-label={`driven by ${driver}`} />
        </Tip>
      )}
      {moved && (
        <Tip text="Modulated">
          <Waves size={11} aria-label="moved" />
        </Tip>
      )}
      {drawn && (
        <Tip text="Automated: the lane overrides this value">
          <Spline size={11} aria-label="drawn over time" />
        </Tip>
      )}
      {locked && (
        <Tip text="Excluded from randomisation">
          <Lock size={11} aria-label="locked" />
        </Tip>
      )}
    </HStack>
  );
}
