import { Box, Grid, Text } from '@chakra-ui/react';
import { useCallback } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import {
  controlAt,
  controlPlace,
  controlText,
  parseControl,
  type ControlDocument,
  edits,
} from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { Scale } from '../parameters/Scale.tsx';
import { TypedValue } from '../parameters/TypedValue.tsx';

/** Turning a control, by its scale, by keys or by typing. */
export function useTurn({ id }: ControlDocument) {
  const dispatch = useAppDispatch();
  return useCallback(
    (value: number, gesture?: string) =>
      dispatch(edit(edits.turnControl(BUILT_INS, id, value), gesture && `${gesture} ${id}`)),
    [dispatch, id],
  );
}

/** A control as the chain's users have it: name, scale, read-out. `narrow`: one above the other. */
export function ControlRow({
  control,
  narrow = false,
}: {
  readonly control: ControlDocument;
  readonly narrow?: boolean;
}) {
  const turn = useTurn(control);
  const { name, min, max, value, note } = control;
  const place = controlPlace(control);
  const text = controlText(control);
  const scale = (
    <Scale
      label={name}
      place={place}
      defaultPlace={controlPlace({ ...control, value: control.default })}
      min={Math.min(min, max)}
      max={Math.max(min, max)}
      now={value}
      text={text}
      onPlace={(at, gesture) => turn(controlAt(control, at), gesture)}
      onStep={(steps) => turn(stepped(control, steps), `key ${name}`)}
      onDefault={() => turn(control.default)}
    />
  );
  const typed = (
    <TypedValue
      label={`${name}, value`}
      text={text}
      textAlign="end"
      onCommit={(written) => turn(parseControl(control, written))}
    />
  );
  if (narrow)
    return (
      <Box width="176px" flexShrink={0} data-control={name} title={note}>
        <Grid templateColumns="1fr 104px" alignItems="baseline">
          <Text fontSize="sm" fontWeight="600" truncate>
            {name}
          </Text>
          {typed}
        </Grid>
        {scale}
      </Box>
    );
  return (
    <Grid templateColumns="104px 1fr 128px" columnGap="2" alignItems="center" minHeight="30px" data-control={name}>
      <Text fontSize="sm" fontWeight="600" truncate title={note}>
        {name}
      </Text>
      {scale}
      {typed}
    </Grid>
  );
}

/** Some hundredths up or down the way, or as many steps. */
function stepped(control: ControlDocument, steps: number): number {
  if (control.step > 0)
    return controlAt(control, controlPlace({ ...control, value: control.value + steps * control.step }));
  if (control.words.length > 1)
    return controlAt(control, controlPlace(control) + Math.sign(steps) / (control.words.length - 1));
  return controlAt(control, controlPlace(control) + steps / 100);
}
