import { Grid, HStack, Link, Stack, Text } from '@chakra-ui/react';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { showLevel } from '@hexenkessel/core/model';
import { RESAMPLER } from '@hexenkessel/core/engine';
import { WAV_DEPTHS, ditherText, type WavDepth } from '@hexenkessel/core/formats';
import { SOUND_FILE_KINDS, type Sound, type SoundFileKind } from '@hexenkessel/core/protocol';
import { audioUrl, useDitherQuery } from '../api/api.ts';
import { Choice } from '../parts/Choice.tsx';

const KINDS: Record<SoundFileKind, string> = { wav: 'WAV', flac: 'FLAC' };
const DEPTHS: Record<WavDepth, string> = { '16': '16 bit', '24': '24 bit', '32f': '32 bit float' };
const RATES = ['own', '44100', '48000', '88200', '96000'] as const;

export interface Writing {
  readonly kind: SoundFileKind;
  readonly depth: WavDepth;
  readonly rate: (typeof RATES)[number];
}

export const FIRST_WRITING: Writing = { kind: 'wav', depth: '24', rate: 'own' };

/** The query that asks the server for it. */
export function writingQuery({ kind, depth, rate }: Writing): Record<string, string> {
  return { kind, depth: kind === 'flac' && depth === '32f' ? '24' : depth, ...(rate === 'own' ? {} : { rate }) };
}

/** File format, depth and rate. */
export function WritingChoice({
  value,
  onChange,
}: {
  readonly value: Writing;
  readonly onChange: (value: Writing) => void;
}) {
  return (
    <Grid templateColumns="74px 1fr 96px" gap="1">
      <Choice
        label="File format"
        value={value.kind}
        options={SOUND_FILE_KINDS.map((kind) => [kind, KINDS[kind]] as const)}
        onChange={(kind) => onChange({ ...value, kind })}
      />
      <Choice
        label="Sample format"
        value={value.depth}
        options={WAV_DEPTHS.filter((depth) => value.kind === 'wav' || depth !== '32f').map(
          (depth) => [depth, DEPTHS[depth]] as const,
        )}
        onChange={(depth) => onChange({ ...value, depth })}
      />
      <Choice
        label="Sample rate"
        value={value.rate}
        options={RATES.map((rate) => [rate, rate === 'own' ? 'source rate' : `${Number(rate) / 1000} kHz`] as const)}
        onChange={(rate) => onChange({ ...value, rate })}
      />
    </Grid>
  );
}

/** Writes the sound as a file for other programs, with its loops, root note and place. */
export function WriteSound({ sound }: { readonly sound: Sound }) {
  const [writing, setWriting] = useState<Writing>(FIRST_WRITING);
  if (sound.missing) return null;
  return (
    <Stack gap="1">
      <Text fontFamily="heading">Export file</Text>
      <WritingChoice value={writing} onChange={setWriting} />
      <HStack justify="space-between">
        <Link
          href={audioUrl(sound.id, writingQuery(writing))}
          download={`${sound.name}.${writing.kind}`}
          color="copper"
          minHeight="24px"
          aria-label={`Download ${KINDS[writing.kind]} of ${sound.name}`}
        >
          <Download size={14} aria-hidden /> Download {KINDS[writing.kind]}
        </Link>
      </HStack>
      <FileText sound={sound} writing={writing} />
      <Text fontSize="xs" color="faded">
        {writing.kind === 'wav'
          ? 'Loops, root note, markers and time reference go with it.'
          : 'FLAC carries name and time reference as tags; loops and markers need a WAV file.'}{' '}
        {writing.rate !== 'own' && `Converted by a ${RESAMPLER}.`}
      </Text>
    </Stack>
  );
}

/** What becomes of the samples in such a file: where it is dithered, and whether it is clipped. */
function FileText({ sound, writing }: { readonly sound: Sound; readonly writing: Writing }) {
  const query = writingQuery(writing);
  const integer = query.depth !== '32f';
  const { data } = useDitherQuery({ id: sound.id, writing: query }, { skip: !integer });
  if (!integer) return null;
  return (
    <>
      <ClippedText sounds={[sound]} writing={writing} />
      <Text fontSize="xs" color="faded">
        {data ? `The file is ${ditherText(data)}.` : ' '}
      </Text>
    </>
  );
}

/** Says before sounds are written which of them a file with integers would clip. */
export function ClippedText({ sounds, writing }: { readonly sounds: readonly Sound[]; readonly writing: Writing }) {
  const { depth } = writingQuery(writing);
  const over = sounds.filter(({ peak }) => peak !== null && peak > 0);
  if (depth === '32f' || over.length === 0) return null;
  const peaks = over.map(({ name, peak }) => `${name} peaks at ${showLevel(peak!)}`);
  const more = peaks.length > MOST_NAMED ? ` and ${peaks.length - MOST_NAMED} more` : '';
  return (
    <Text fontSize="xs" color="alarm" role="status">
      {peaks.slice(0, MOST_NAMED).join(', ')}
      {more}: what is over 0 dBFS is clipped at {depth} bits. 32 bit float in a WAV file keeps it.
    </Text>
  );
}

/** Sounds that are named one by one. */
const MOST_NAMED = 3;
