import { Grid, Text } from '@chakra-ui/react';
import { parseChannels } from '@hexenkessel/core/formats';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import type { TakingHow } from './useTakeSound.ts';

const RATES = ['own', '44100', '48000', '88200', '96000'] as const;

/** Which channels of a file are taken, and at which rate. */
export function TakingChoice({
  how,
  onChange,
}: {
  readonly how: TakingHow;
  readonly onChange: (how: TakingHow) => void;
}) {
  return (
    <Grid templateColumns="64px 110px" gap="1" alignContent="center" fontSize="sm" alignItems="center">
      <Text>channels</Text>
      <TypedValue
        label="Import channels"
        borderColor="rule"
        text={how.channels ?? 'the first two'}
        onCommit={(text) => {
          const { channels: _, ...rest } = how;
          if (/first/.test(text)) onChange(rest);
          else {
            parseChannels(text);
            onChange({ ...rest, channels: text });
          }
        }}
      />
      <Text>rate</Text>
      <Choice
        label="Import sample rate"
        value={how.rate === undefined ? 'own' : (String(how.rate) as (typeof RATES)[number])}
        options={RATES.map((rate) => [rate, rate === 'own' ? 'unchanged' : `${Number(rate) / 1000} kHz`] as const)}
        onChange={(rate) => {
          const { rate: _, ...rest } = how;
          onChange(rate === 'own' ? rest : { ...rest, rate: Number(rate) });
        }}
      />
    </Grid>
  );
}
