import { Box, Checkbox, Link, Text } from '@chakra-ui/react';
import { Lock, Repeat } from 'lucide-react';
import { useMemo } from 'react';
import { Link as RouterLink } from 'react-router';
import { showLevel, showLoudness, showSeconds } from '@hexenkessel/core/model';
import { placeText, showOffset } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { DataTable, type Column } from '../parts/DataTable.tsx';
import { PlaySound } from './PlaySound.tsx';
import { DownloadWav } from './RenderEntry.tsx';
import { dragOut } from './dragOut.ts';

interface Props {
  readonly sounds: readonly Sound[];
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
}

const idOf = ({ id }: Sound) => id;

/** Sounds in rows, sorted by any column, chosen for what is done with several at once. */
export function SoundTable({ sounds, chosen, onChoose }: Props) {
  const columns = useMemo(
    (): readonly Column<Sound>[] => [
      {
        title: 'chosen',
        heading: (
          <Choose
            label="Select all sounds shown"
            checked={sounds.length > 0 && sounds.every(({ id }) => chosen.includes(id))}
            onChange={(all) => onChoose(all ? sounds.map(idOf) : [])}
          />
        ),
        cell: ({ id, name }) => (
          <Choose
            label={`Select ${name}`}
            checked={chosen.includes(id)}
            onChange={(yes) => onChoose(yes ? [...chosen, id] : chosen.filter((other) => other !== id))}
          />
        ),
      },
      { title: 'sound', fixed: true, value: ({ name }) => name.toLowerCase(), cell: nameOf },
      {
        title: 'made from',
        value: ({ lineage }) => `${lineage?.sourceName ?? ''} ${lineage?.chainName ?? ''}`.toLowerCase(),
        cell: originOf,
      },
      {
        title: 'length',
        figures: true,
        value: ({ frames, sampleRate }) => frames / sampleRate,
        cell: ({ frames, sampleRate }) => showSeconds(frames / sampleRate),
      },
      {
        title: 'format',
        figures: true,
        value: ({ format, sampleRate }) => `${format} ${sampleRate}`,
        cell: ({ channels, format, sampleRate }) => `${channels} × ${format} ${sampleRate / 1000} kHz`,
      },
      {
        title: 'peak',
        figures: true,
        value: ({ peak }) => peak ?? -Infinity,
        cell: ({ peak }) => showLevel(peak ?? -Infinity),
      },
      {
        title: 'loudness',
        figures: true,
        value: ({ loudness }) => loudness ?? -Infinity,
        cell: ({ loudness }) => showLoudness(loudness),
      },
      {
        title: 'time reference',
        figures: true,
        value: ({ timeReference, sampleRate }) => (timeReference ?? 0) / sampleRate,
        cell: placeIn,
      },
      {
        title: 'file',
        fixed: true,
        cell: ({ id, name, missing }) => !missing && <DownloadWav soundId={id} name={name} />,
      },
    ],
    [sounds, chosen, onChoose],
  );
  return (
    <DataTable
      name="sounds"
      rows={sounds}
      columns={columns}
      idOf={idOf}
      rowProps={({ id, name }) => ({ bg: chosen.includes(id) ? 'shade' : 'transparent', 'data-sound': name })}
    />
  );
}

const nameOf = (sound: Sound) => (
  <>
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
  </>
);

const originOf = ({ lineage, kind, mixed, sourceFormat }: Sound) =>
  lineage ? (
    <>
      {lineage.sourceName} with{' '}
      <Link asChild color="copper">
        <RouterLink to={`/bench/${lineage.chainId}?sound=${lineage.sourceId}`}>{lineage.chainName}</RouterLink>
      </Link>
      , {lineage.version}
    </>
  ) : (
    <Text color="faded">
      {kind === 'signal'
        ? 'test signal'
        : mixed
          ? `mix of ${mixed.parts.map(({ name }) => name).join(', ')}`
          : `source (${sourceFormat})`}
    </Text>
  );

const placeIn = (sound: Sound) => (
  <>
    <Text as="span" color={sound.timeReference === null ? 'faded' : 'ink'}>
      {placeText(sound)}
    </Text>
    {sound.kind === 'render' && (
      <Text color="faded" fontSize="xs">
        {showOffset(sound)}
      </Text>
    )}
  </>
);

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
