import { Heading, HStack, Stack, Table, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { TEMPO_RANGE, tempoTable } from '@hexenkessel/core/model';
import { readTempo } from '../tempo/readTempo.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';

const RATES = ['44100', '48000', '88200', '96000', '192000'] as const;
const METERS = ['4/4', '3/4', '6/8', '5/4', '7/8', '12/8'] as const;

/** What every note value comes to at a tempo. */
export function TempoArticle() {
  const [search, setSearch] = useSearchParams();
  const asked = Number(search.get('bpm'));
  const tempo = asked >= TEMPO_RANGE.min && asked <= TEMPO_RANGE.max ? asked : 120;
  const [rate, setRate] = useState<(typeof RATES)[number]>('48000');
  const [meter, setMeter] = useState<(typeof METERS)[number]>('4/4');
  const [beats, unit] = meter.split('/').map(Number);
  const rows = tempoTable({ tempo, meter: [beats, unit] }, Number(rate));
  return (
    <Stack as="article" gap="3" maxWidth="52rem">
      <Heading as="h2" size="3xl">
        Tempo
      </Heading>
      <Text>What each note value comes to: d is dotted, half as long again; t is a triplet, two thirds as long.</Text>
      <HStack>
        <TypedValue
          label="Tempo of the table"
          text={`${tempo} bpm`}
          width="96px"
          borderColor="rule"
          onCommit={(text) => {
            const bpm = String(readTempo(text));
            setSearch((before) => (before.set('bpm', bpm), before), { replace: true });
          }}
        />
        <Choice
          label="Meter"
          value={meter}
          options={METERS.map((name) => [name, name] as const)}
          onChange={setMeter}
          width="84px"
        />
        <Choice
          label="Sample rate"
          value={rate}
          options={RATES.map((name) => [name, `${Number(name) / 1000} kHz`] as const)}
          onChange={setRate}
          width="110px"
        />
      </HStack>
      <Table.Root size="sm" fontFamily="mono" css={{ '& td, & th': { paddingBlock: '3px' } }}>
        <Table.Header>
          <Table.Row bg="transparent">
            {['note', 'milliseconds', 'hertz', 'samples', 'beats'].map((name, n) => (
              <Table.ColumnHeader key={name} textAlign={n === 0 ? 'start' : 'end'}>
                {name}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((row) => (
            <Table.Row key={row.note} bg="transparent" fontWeight={/[dt]$/.test(row.note) ? '400' : '600'}>
              <Table.Cell>{row.note}</Table.Cell>
              <Table.Cell textAlign="end">{row.milliseconds.toFixed(2)}</Table.Cell>
              <Table.Cell textAlign="end">{row.hertz.toFixed(row.hertz < 10 ? 4 : 2)}</Table.Cell>
              <Table.Cell textAlign="end">{row.samples.toFixed(1)}</Table.Cell>
              <Table.Cell textAlign="end">{Number(row.beats.toFixed(4))}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Stack>
  );
}
