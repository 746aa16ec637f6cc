import { Box, Button, Grid, HStack, Stack, Text } from '@chakra-ui/react';
import { memo, useId, useMemo, useState, useCallback } from 'react';
import {
  parseLevel,
  parseNumber,
  parseTime,
  printLevel,
  printTime,
  showOtherUnits,
  showSeconds,
  type Meter,
  type TimeValue,
} from '@hexenkessel/core/model';
import {
  fillNameTemplate,
  regionInName,
  type Anchor,
  type ChainDocument,
  type LeadIn,
  type RenderChannels,
  type RenderLevel,
  type Tail,
  edits,
} from '@hexenkessel/core/chain';
import type { RegionRender } from '@hexenkessel/core/engine';
import { renderTimeReference, showTimeOfDay, timeReferenceOf } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { renderSentence } from '@hexenkessel/core/sheet';
import { useRendersQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { markedOn } from '../chain/playbackSlice.ts';
import { edit } from '../chain/edit.ts';
import { useShown, useShownSound } from '../chain/shownChain.ts';
import { useRendered } from '../cascade/useRenderer.ts';
import { useSoundsOf } from '../sounds/useSounds.ts';
import { usePlayback } from '../playback/usePlayback.ts';
import { isUnnamed } from '../chain/newChain.ts';
import { NameChain } from './NameChain.tsx';
import { renderKept } from '../chain/renderKept.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { Estimate } from './Estimate.tsx';
import { renderPlanOf } from './renderPlan.ts';
import { StretchRows } from './StretchRows.tsx';
import { RenderEntry } from '../sounds/RenderEntry.tsx';

const TAILS = [
  ['fixed', 'fixed length'],
  ['auto', 'until below a level'],
  ['none', 'none'],
] as const;
const LEAD_INS = [
  ['auto', 'automatic'],
  ['fixed', 'fixed length'],
  ['none', 'none'],
] as const;
const ANCHORS = [
  ['source', 'natural'],
  ['end', 'end at onset'],
  ['start', 'start at onset'],
] as const;

const CHANNEL_WORDS = [
  ['as they come', 'automatic: stereo where a stage widens'],
  ['mono', 'mono'],
  ['stereo', 'stereo'],
] as const;
const LEVELS = [
  ['none', 'off'],
  ['peak', 'peak'],
  ['loudness', 'loudness'],
] as const;

/** How the chain renders, and the renders of this sound. */
export const RenderPanel = memo(function RenderPanel() {
  const sound = useShownSound();
  const document = useShown((chain) => chain);
  // Frames from the source's first to the render's; undefined before it was first rendered.
  const begins = useRendered(({ rows }) => rows.result?.start);
  const playback = usePlayback();
  const onListen = useCallback(() => playback.stop(), [playback]);
  const dispatch = useAppDispatch();
  const chainId = useAppSelector((state) => state.server.chainId);
  const marked = useAppSelector((state) => markedOn(state, sound.id));
  const [busy, setBusy] = useState(false);
  const [naming, setNaming] = useState(false);
  const reasonId = useId();
  const renders = useRendersQuery({ chain: chainId ?? '', source: sound.id }, { skip: chainId === null });
  const { tail, leadIn, anchor, name, channels, level, seed } = document.render;
  const { timing } = document;
  const lies = timeReferenceOf(sound.timeReference, sound.sampleRate);
  const plan = useMemo(() => renderPlanOf(document, sound, marked), [document, sound, marked]);
  const asked = plan.asked;
  const refusal = sound.missing ? `The audio of ${sound.name} is not on disk any more.` : plan.refusal;
  const change = (part: Partial<ChainDocument['render']>) => dispatch(edit(edits.changeRender(part)));
  const render = async () => {
    setBusy(true);
    await dispatch(renderKept(sound.id, asked));
    setBusy(false);
  };
  const here = renders.currentData ?? [];
  const made = useSoundsOf(here.flatMap(({ soundId }) => soundId ?? []));

  return (
    <Stack gap="2" height="100%" minHeight="0">
      <Stack gap="2" flex="1" minHeight="0" overflowY="auto" pr="1">
        <StretchRows marked={marked} sound={sound} document={document} />
        <Grid templateColumns="72px 1fr 92px" gap="2" alignItems="center" fontSize="sm">
          <Text>tail</Text>
          <Choice label="Tail" value={tail.mode} options={TAILS} onChange={(mode) => change({ tail: newTail(mode) })} />
          {tail.mode === 'fixed' && (
            <Length
              meter={timing.meter}
              label="Tail length"
              value={tail.length}
              onChange={(length) => change({ tail: { mode: 'fixed', length } })}
            />
          )}
          {tail.mode === 'auto' && (
            <TypedValue
              label="Tail until below"
              text={printLevel(tail.below)}
              textAlign="end"
              onCommit={(text) => change({ tail: { mode: 'auto', below: parseLevel(text) } })}
            />
          )}
          {tail.mode === 'none' && <span />}
          <Text>lead-in</Text>
          <Choice
            label="Lead-in"
            value={leadIn.mode}
            options={LEAD_INS}
            onChange={(mode) => change({ leadIn: newLeadIn(mode) })}
          />
          {leadIn.mode === 'fixed' ? (
            <Length
              meter={timing.meter}
              label="Lead-in length"
              value={leadIn.length}
              onChange={(length) => change({ leadIn: { mode: 'fixed', length } })}
            />
          ) : (
            <span />
          )}
          <Text>alignment</Text>
          <Choice<Anchor>
            label="Alignment"
            value={anchor}
            options={ANCHORS}
            onChange={(next) => change({ anchor: next })}
            gridColumn="2 / 4"
          />
          <Text>channels</Text>
          <Choice<RenderChannels>
            label="Channels"
            value={channels}
            options={CHANNEL_WORDS}
            onChange={(next) => change({ channels: next })}
            gridColumn="2 / 4"
          />
          <Text>normalise</Text>
          <Choice
            label="Normalise"
            value={level.mode}
            options={LEVELS}
            onChange={(mode) => change({ level: newLevel(mode) })}
          />
          {level.mode === 'none' ? (
            <span />
          ) : (
            <TypedValue
              label="Target level"
              text={level.mode === 'peak' ? printLevel(level.to, 'dBFS') : printLevel(level.to, 'LUFS')}
              textAlign="end"
              onCommit={(text) => change({ level: { ...level, to: parseLevel(text) } })}
            />
          )}
          <Text>random seed</Text>
          <TypedValue
            label="Random seed"
            text={String(seed)}
            borderColor="rule"
            onCommit={(text) => change({ seed: parseNumber(text) })}
          />
          <Button
            size="2xs"
            variant="outline"
            borderColor="rule"
            onClick={() => change({ seed: (seed * 1664525 + 1013904223) % 4294967296 })}
          >
            new seed
          </Button>
          <Text>name</Text>
          <TypedValue
            label="Name of renders"
            text={name}
            gridColumn="2 / 4"
            borderColor="rule"
            onCommit={(text) => {
              fillNameTemplate(text, { sound: '', chain: 'x', version: '', tempo: '' });
              return change({ name: text });
            }}
          />
        </Grid>
        <Text fontSize="sm" color="faded">
          {renderSentence(document)}{' '}
          {tail.mode === 'fixed' && `Tail: ${showOtherUnits(tail.length, timing, sound.sampleRate)}.`}
        </Text>
        <Text fontSize="sm" color="faded">
          {sound.timeReference === null
            ? 'The file has no time reference; 01:00:00 is assumed, and renders carry their own from there.'
            : `The time reference of this sound is ${showTimeOfDay(lies, sound.sampleRate)}; renders carry their own from there.`}
        </Text>
        {begins !== undefined && renderTimeReference(lies, begins) === undefined && (
          <Text role="status" fontSize="sm" color="alarm">
            The render begins {showSeconds(-(lies + begins) / sound.sampleRate)} before midnight, which no file can say:
            it is written without a time reference.
          </Text>
        )}
      </Stack>
      <Box borderTopWidth="1px" borderColor="rule" pt="2">
        {plan.told && <Estimate told={plan.told} sound={sound} asked={asked} />}
        {plan.note !== undefined && (
          <Text role="status" fontSize="sm">
            {plan.note}
          </Text>
        )}
        {refusal !== undefined && (
          <Text id={reasonId} role="alert" fontSize="sm" color="alarm">
            {refusal}
          </Text>
        )}
      </Box>
      <HStack>
        <Button
          size="sm"
          colorPalette="copperInk"
          loading={busy}
          disabled={refusal !== undefined}
          aria-describedby={refusal === undefined ? undefined : reasonId}
          onClick={() => (isUnnamed(document) ? setNaming(true) : void render())}
        >
          {marked.whole ? 'Render' : document.render.region.splice ? 'Render and splice' : 'Render the region'}
        </Button>
        {naming && (
          <NameChain document={document} sound={sound} onNamed={() => void render()} onClose={() => setNaming(false)} />
        )}
        <Text fontSize="sm" truncate>
          → {previewName(document, sound, asked)}
        </Text>
      </HStack>
      <Box maxHeight="34%" minHeight="40px" overflowY="auto" borderTopWidth="1px" borderColor="rule" pb="2">
        {here.length === 0 && (
          <Text fontSize="sm" color="faded" pt="2">
            Renders of this sound with this chain appear here. Each is a new sound; the original stays as it is.
          </Text>
        )}
        {here.map((entry) => (
          <RenderEntry
            key={entry.id}
            render={entry}
            made={made.find(({ id }) => id === entry.soundId)}
            sourceRate={sound.sampleRate}
            onPlay={onListen}
          />
        ))}
      </Box>
    </Stack>
  );
});

function Length({
  label,
  value,
  meter,
  onChange,
}: {
  label: string;
  value: TimeValue;
  meter: Meter;
  onChange: (value: TimeValue) => boolean;
}) {
  return (
    <TypedValue
      label={label}
      text={printTime(value)}
      textAlign="end"
      onCommit={(text) => onChange(parseTime(text, meter))}
    />
  );
}

function newTail(mode: Tail['mode']): Tail {
  if (mode === 'fixed') return { mode, length: { beats: 4 } };
  return mode === 'auto' ? { mode, below: -80 } : { mode };
}

function newLeadIn(mode: LeadIn['mode']): LeadIn {
  return mode === 'fixed' ? { mode, length: { beats: 4 } } : { mode };
}

function newLevel(mode: RenderLevel['mode']): RenderLevel {
  if (mode === 'peak') return { mode, to: -1 };
  return mode === 'loudness' ? { mode, to: -18 } : { mode };
}

function previewName(document: ChainDocument, sound: Sound, asked: RegionRender | undefined): string {
  return fillNameTemplate(document.render.name, {
    sound: sound.name,
    chain: document.name,
    version: 'version …',
    tempo: String(document.timing.tempo),
    ...(asked ? { region: regionInName(asked.region, sound.sampleRate) } : {}),
  });
}
