import { Box, Checkbox, Link, Text } from '@chakra-ui/react';
import { Lock, Repeat } from 'lucide-react';
import { useMemo } from 'react';
import { Link as RouterLink } from 'react-router';
import { showLevel, showLoudness, showSeconds } from '@hexenkessel/core/model';
import { placeText, showOffset } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { DataTable, type Column } from '../parts/DataTable.tsx';
import type { Sorts } from '../parts/useOrder.ts';
import { PlaySound } from './PlaySound.tsx';
import { DownloadWav } from './RenderEntry.tsx';
import { dragOut } from './dragOut.ts';

interface Props {
  readonly sounds: readonly Sound[];
  readonly total: number;
  readonly onMore: () => void;
  readonly chosen: readonly string[];
  readonly onChoose: (ids: readonly string[]) => void;
  /** All that are found are chosen, those too that have not come yet. */
  readonly onChooseAll: () => void;
}

export const SOUND_SORTS: Sorts = {
  sound: 'name',
  'made from': 'origin',
  length: 'length',
  format: 'format',
  peak: 'peak',
  loudness: 'loudness',
  'time reference': 'time',
};

const idOf = ({ id }: Sound) => id;

/** Sounds in rows, sorted by any column, chosen for what is done with several at once. */
export function SoundTable({ sounds, total, onMore, chosen, onChoose, onChooseAll }: Props) {
  const columns = useMemo(
    (): readonly Column<Sound>[] => [
      {
        title: 'chosen',
        heading: (
          <Choose
            label="Select all sounds found"
            checked={chosen.length >= total && sounds.every(({ id }) => chosen.includes(id))}
            onChange={(all) => (all ? onChooseAll() : onChoose([]))}
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
      { title: 'sound', fixed: true, cell: nameOf },
      {
        title: 'made from',
        cell: originOf,
      },
      {
        title: 'length',
        figures: true,
        cell: ({ frames, sampleRate }) => showSeconds(frames / sampleRate),
      },
      {
        title: 'format',
        figures: true,
        cell: ({ channels, format, sampleRate }) => `${channels} × ${format} ${sampleRate / 1000} kHz`,
      },
      {
        title: 'peak',
        figures: true,
        cell: ({ peak }) => showLevel(peak ?? -Infinity),
      },
      {
        title: 'loudness',
        figures: true,
        cell: ({ loudness }) => showLoudness(loudness),
      },
      {
        title: 'time reference',
        figures: true,
        cell: placeIn,
      },
      {
        title: 'file',
        fixed: true,
        cell: ({ id, name, missing }) => !missing && <DownloadWav soundId={id} name={name} />,
      },
    ],
    [sounds, total, chosen, onChoose, onChooseAll],
  );
  return (
    <DataTable
      name="sounds"
      rows={sounds}
      total={total}
      onMore={onMore}
      sorts={SOUND_SORTS}
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
