import { Box, Checkbox, Link, Table, Text } from '@chakra-ui/react';
import { Lock, Repeat } from 'lucide-react';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { showLevel, showLoudness, showSeconds } from '@hexenkessel/core/model';
import { placeText, showOffset } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { PlaySound } from './PlaySound.tsx';
import { DownloadWav } from './RenderEntry.tsx';
import { dragOut } from './dragOut.ts';

interface Props {
  readonly sounds: readonly Sound[];
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
}

const COLUMNS = {
  sound: (sound: Sound) => sound.name.toLowerCase(),
  'made from': (sound: Sound) => `${sound.lineage?.sourceName ?? ''} ${sound.lineage?.chainName ?? ''}`.toLowerCase(),
  length: (sound: Sound) => sound.frames / sound.sampleRate,
  format: (sound: Sound) => `${sound.format} ${sound.sampleRate}`,
  peak: (sound: Sound) => sound.peak ?? -Infinity,
  loudness: (sound: Sound) => sound.loudness ?? -Infinity,
  'time reference': (sound: Sound) => (sound.timeReference ?? 0) / sound.sampleRate,
} as const;
type Column = keyof typeof COLUMNS;

/** Sounds in rows, sorted by any column, chosen for what is done with several at once. */
export function SoundTable({ sounds, chosen, onChoose }: Props) {
  const [order, setOrder] = useState<{ readonly column: Column; readonly down: boolean }>();
  const sorted = order ? sounds.toSorted((a, b) => compare(a, b, order.column) * (order.down ? -1 : 1)) : sounds;
  return (
    <Table.Root size="sm" variant="line" stickyHeader>
      <Table.Header>
        <Table.Row bg="paper">
          <Table.ColumnHeader width="32px">
            <Choose
              label="Select all sounds shown"
              checked={sounds.length > 0 && sounds.every(({ id }) => chosen.includes(id))}
              onChange={(all) => onChoose(all ? sounds.map(({ id }) => id) : [])}
            />
          </Table.ColumnHeader>
          {(Object.keys(COLUMNS) as Column[]).map((column) => (
            <Table.ColumnHeader
              key={column}
              color="faded"
              aria-sort={order?.column === column ? (order.down ? 'descending' : 'ascending') : undefined}
            >
              <button
                type="button"
                onClick={() => setOrder({ column, down: order?.column === column && !order.down })}
                style={{ minHeight: 24 }}
              >
                {column} {order?.column === column && (order.down ? '▾' : '▴')}
              </button>
            </Table.ColumnHeader>
          ))}
          <Table.ColumnHeader color="faded">file</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body fontVariantNumeric="tabular-nums">
        {sorted.map((sound) => (
          <Table.Row key={sound.id} bg={chosen.includes(sound.id) ? 'shade' : 'transparent'} data-sound={sound.name}>
            <Table.Cell borderColor="rule">
              <Choose
                label={`Select ${sound.name}`}
                checked={chosen.includes(sound.id)}
                onChange={(yes) => onChoose(yes ? [...chosen, sound.id] : chosen.filter((id) => id !== sound.id))}
              />
            </Table.Cell>
            <Table.Cell borderColor="rule">
              <Box float="left" ms="-8px">
                <PlaySound sound={sound} />
              </Box>
              <Link asChild display="inline" lineHeight="28px" fontWeight="600" color={sound.missing ? 'alarm' : 'ink'}>
                <RouterLink to={`/sounds/${sound.id}`} {...dragOut(sound.id, sound.name)}>
                  {sound.name}
                </RouterLink>
              </Link>
              {sound.marks.loops.length > 0 && (
                <Repeat size={12} aria-label="has loops" style={{ display: 'inline', marginLeft: 6 }} />
              )}
              {sound.sealed && <Lock size={12} aria-label="sealed" style={{ display: 'inline', marginLeft: 6 }} />}
              {sound.missing && (
                <Text fontSize="xs" color="alarm">
                  file missing
                </Text>
              )}
              {sound.tags.length > 0 && (
                <Text fontSize="xs" color="verdigris">
                  {sound.tags.join(' · ')}
                </Text>
              )}
            </Table.Cell>
            <Table.Cell borderColor="rule">
              {sound.lineage ? (
                <>
                  {sound.lineage.sourceName} with{' '}
                  <Link asChild color="copper">
                    <RouterLink to={`/bench/${sound.lineage.chainId}?sound=${sound.lineage.sourceId}`}>
                      {sound.lineage.chainName}
                    </RouterLink>
                  </Link>
                  , {sound.lineage.version}
                </>
              ) : (
                <Text color="faded">
                  {sound.kind === 'signal'
                    ? 'test signal'
                    : sound.mixed
                      ? `mix of ${sound.mixed.parts.map(({ name }) => name).join(', ')}`
                      : `source (${sound.sourceFormat})`}
                </Text>
              )}
            </Table.Cell>
            <Table.Cell borderColor="rule" fontFamily="mono" whiteSpace="nowrap">
              {showSeconds(sound.frames / sound.sampleRate)}
            </Table.Cell>
            <Table.Cell borderColor="rule" fontFamily="mono" whiteSpace="nowrap">
              {sound.channels} × {sound.format} {sound.sampleRate / 1000} kHz
            </Table.Cell>
            <Table.Cell borderColor="rule" fontFamily="mono" whiteSpace="nowrap">
              {showLevel(sound.peak ?? -Infinity)}
            </Table.Cell>
            <Table.Cell borderColor="rule" fontFamily="mono" whiteSpace="nowrap">
              {showLoudness(sound.loudness)}
            </Table.Cell>
            <Table.Cell
              borderColor="rule"
              fontFamily="mono"
              whiteSpace="nowrap"
              color={sound.timeReference === null ? 'faded' : 'ink'}
            >
              {placeText(sound)}
              {sound.kind === 'render' && (
                <Text color="faded" fontSize="xs">
                  {showOffset(sound)}
                </Text>
              )}
            </Table.Cell>
            <Table.Cell borderColor="rule">
              {!sound.missing && <DownloadWav soundId={sound.id} name={sound.name} />}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function compare(a: Sound, b: Sound, column: Column): number {
  const [x, y] = [COLUMNS[column](a), COLUMNS[column](b)];
  return x < y ? -1 : x > y ? 1 : 0;
}

function Choose({
  label,
  checked,
  onChange,
}: {
  readonly label: string;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}) {
  return (
    <Checkbox.Root size="sm" checked={checked} onCheckedChange={(details) => onChange(details.checked === true)}>
      <Checkbox.HiddenInput aria-label={label} />
      <Checkbox.Control borderColor="faded" />
    </Checkbox.Root>
  );
}
