import { Box, Button, Flex, Grid, Heading, HStack, Link, Stack, Text } from '@chakra-ui/react';
import { ArrowLeft, FlaskConical } from 'lucide-react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import {
  InputError,
  parseKey,
  parseNumber,
  printKey,
  showLevel,
  showLoudness,
  showSeconds,
} from '@hexenkessel/core/model';
import { showOffset, placeText } from '@hexenkessel/core/formats';
import type { Sound, SoundChange } from '@hexenkessel/core/protocol';
import { problemOf, useChangeSoundMutation, useSoundsOfQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { readTempo } from '../tempo/readTempo.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { QueryState } from '../parts/QueryState.tsx';
import { DeleteSound } from './DeleteSound.tsx';
import { Family } from './Family.tsx';
import { LoopEditor } from './LoopEditor.tsx';
import { MissingAudio } from './MissingAudio.tsx';
import { useBeginChain } from '../chain/beginChain.ts';
import { PlaySound, usePlayKey } from './PlaySound.tsx';
import { MadeBy } from './MadeBy.tsx';
import { MixedFrom } from './MixedFrom.tsx';
import { Seal } from './Seal.tsx';
import { WriteSound } from './WriteSound.tsx';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { showBytes } from './showBytes.ts';
import { useSoundClip } from './useSoundClip.ts';

/** One sound: what it is, where it came from and went, its loops, and how it leaves. */
export function SoundPage() {
  const { id = '' } = useParams();
  const sounds = useSoundsOfQuery([id]);
  return (
    <QueryState query={{ ...sounds, data: sounds.currentData }} what="the sound">
      {([sound]) => {
        if (!sound)
          return (
            <Box p="6" role="status">
              <Heading as="h1" size="xl">
                That sound is not here
              </Heading>
              <Text mt="2">
                It was deleted, or belongs to another store. All that are here stand under{' '}
                <Link asChild color="copper">
                  <RouterLink to="/sounds">Sounds</RouterLink>
                </Link>
                .
              </Text>
            </Box>
          );
        return <OneSound key={sound.id} sound={sound} />;
      }}
    </QueryState>
  );
}

function OneSound({ sound }: { readonly sound: Sound }) {
  const { clip, failure } = useSoundClip(sound);
  const navigate = useNavigate();
  const begin = useBeginChain();
  usePageTitle(sound.name, 'Sounds');
  usePlayKey([sound], sound.missing ? undefined : sound.id);
  const [changeSound] = useChangeSoundMutation();
  const change = async (part: SoundChange) => {
    const result = await changeSound({ id: sound.id, change: part });
    if ('error' in result) tellFailure('Not changed', problemOf(result.error).detail);
  };
  return (
    <Flex
      data-print="whole"
      height="100%"
      minHeight="0"
      direction={{ base: 'column', md: 'row' }}
      overflowY={{ base: 'auto', md: 'visible' }}
    >
      <Stack
        flex={{ base: 'none', md: '1' }}
        minWidth="0"
        px={{ base: '3', md: '6' }}
        py="4"
        gap="3"
        overflowY={{ base: 'visible', md: 'auto' }}
        data-print="whole"
      >
        <HStack justify="space-between" wrap={{ base: 'wrap', xl: 'nowrap' }}>
          <HStack minWidth="0" flex={{ base: '1 0 100%', xl: '1' }}>
            <Link asChild color="copper" aria-label="All sounds">
              <RouterLink to="/sounds">
                <ArrowLeft size={18} />
              </RouterLink>
            </Link>
            <PlaySound sound={sound} />
            <Heading as="h1" size="2xl" flex="1">
              <TypedValue
                label="Name of the sound"
                text={sound.name}
                fontFamily="heading"
                fontSize="2xl"
                height="40px"
                maxLength={200}
                onCommit={(name) => void change({ name })}
              />
            </Heading>
          </HStack>
          <HStack gap="4" flexShrink={{ base: 1, xl: 0 }} wrap="wrap">
            {sound.kind !== 'signal' && !sound.missing && (
              <Button size="xs" variant="outline" borderColor="rule" onClick={() => begin(sound.id)}>
                Begin a chain on it
              </Button>
            )}
            <Link asChild color="copper">
              <RouterLink to={`/sounds?render=${sound.id}`}>
                <FlaskConical size={15} aria-hidden /> Render it through a chain
              </RouterLink>
            </Link>
          </HStack>
        </HStack>
        {sound.missing ? (
          <MissingAudio sound={sound} />
        ) : clip ? (
          <LoopEditor
            clip={clip}
            tempo={sound.tempo}
            marks={sound.marks}
            onChange={(marks) => void change({ marks })}
          />
        ) : (
          <Text role="status" color={failure ? 'alarm' : 'faded'} height="190px">
            {failure ?? 'Loading the sound …'}
          </Text>
        )}
        <Family sound={sound} />
      </Stack>
      <Stack
        width={{ base: '100%', md: '360px' }}
        flexShrink={0}
        borderLeftWidth={{ base: '0', md: '1px' }}
        borderTopWidth={{ base: '1px', md: '0' }}
        borderColor="rule"
        bg="sheet"
        p="4"
        gap="4"
        overflowY={{ base: 'visible', md: 'auto' }}
        data-print="whole"
        as="aside"
        aria-label="Facts about the sound"
      >
        <Facts sound={sound} />
        <Grid templateColumns="96px 1fr" gap="1" alignItems="center" fontSize="sm">
          <Text>root note</Text>
          <TypedValue
            label="Root note"
            borderColor="rule"
            text={sound.marks.rootKey === null ? 'none' : printKey(sound.marks.rootKey)}
            onCommit={(text) =>
              void change({
                marks: { ...sound.marks, rootKey: /^(none|–|-)?$/i.test(text.trim()) ? null : wholeKey(text) },
              })
            }
          />
          <Text>fine tune</Text>
          <TypedValue
            label="Fine tune in cents"
            borderColor="rule"
            text={`${sound.marks.fineTune} ct`}
            onCommit={(text) => void change({ marks: { ...sound.marks, fineTune: cents(text) } })}
          />
          <Text>tempo</Text>
          <TypedValue
            label="Tempo of the sound"
            borderColor="rule"
            text={sound.tempo === null ? 'not known' : `${sound.tempo} bpm`}
            onCommit={(text) =>
              void change({ tempo: /^(none|not known)$/i.test(text.trim()) ? null : readTempo(text) })
            }
          />
          <Text>tags</Text>
          <TypedValue
            label="Tags, with commas between"
            borderColor="rule"
            text={sound.tags.join(', ') || 'none'}
            onCommit={(text) =>
              void change({
                tags: text
                  .split(',')
                  .map((tag) => tag.trim())
                  .filter((tag) => tag !== '' && tag !== 'none'),
              })
            }
          />
        </Grid>
        {sound.kind === 'render' && <Seal sealed={sound.sealed} onSeal={(sealed) => void change({ sealed })} />}
        {sound.lineage && <MadeBy sound={sound} />}
        <MixedFrom sound={sound} />
        <WriteSound sound={sound} />
        <DeleteSound sound={sound} onDeleted={() => void navigate('/sounds')} />
      </Stack>
    </Flex>
  );
}

function wholeKey(text: string): number {
  const key = parseKey(text);
  if (!Number.isInteger(key) || key < 0 || key > 127)
    throw new InputError(`${text} is not allowed; write C-1 to G9, or none.`);
  return key;
}

function cents(text: string): number {
  const value = parseNumber(text, ['ct', 'cent', 'cents']);
  if (value < -50 || value > 50) throw new InputError(`${text} is not allowed; write -50 to 50 cents.`);
  return value;
}

function Facts({ sound }: { readonly sound: Sound }) {
  const rows: [string, string][] = [
    ['kind', sound.mixed ? 'mix' : sound.kind === 'source' ? `source, came as ${sound.sourceFormat}` : sound.kind],
    ['length', `${showSeconds(sound.frames / sound.sampleRate)}, ${sound.frames} samples`],
    ['format', `${sound.channels} × ${sound.format}, ${sound.sampleRate / 1000} kHz, ${showBytes(sound.bytes)}`],
    ['peak', showLevel(sound.peak ?? -Infinity)],
    ['loudness', showLoudness(sound.loudness)],
    ['time reference', placeText(sound)],
    ...(sound.kind === 'render' ? ([['begins', `${showOffset(sound)} from its source`]] as [string, string][]) : []),
    ['SHA-256', `${sound.sha256.slice(0, 16)}…`],
  ];
  return (
    <Grid as="dl" templateColumns="96px 1fr" rowGap="0.5" fontSize="sm">
      {rows.map(([title, text]) => (
        <Box key={title} display="contents">
          <Text as="dt" color="faded">
            {title}
          </Text>
          <Text as="dd" fontFamily="mono" fontSize="xs" alignSelf="center">
            {text}
          </Text>
        </Box>
      ))}
    </Grid>
  );
}
