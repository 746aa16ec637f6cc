import { Grid, HStack, Text } from '@chakra-ui/react';
import { InputError, beatSeconds, parseTime, printTime, resolveTime, showSeconds } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { Beyond, ChainDocument, RegionSettings } from '@hexenkessel/core/chain';
import { beyondOf } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppDispatch } from '../app/store.ts';
import { markedSet, type Marked, type Region } from '../chain/benchSlice.ts';
import { edit } from '../chain/edit.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';

interface Props {
  readonly marked: Marked;
  readonly sound: Sound;
  readonly document: ChainDocument;
}

const BEYOND_WORDS: Record<Beyond, string> = {
  auto: 'as the chain needs it',
  sound: 'the sound as it goes on',
  nothing: 'nothing, so its tail rings',
};

/** What is rendered: all of the sound or the region, and how that is put back. */
export function StretchRows({ marked, sound, document }: Props) {
  const { region, whole } = marked;
  const dispatch = useAppDispatch();
  const seconds = sound.frames / sound.sampleRate;
  const { timing } = document;
  const settings = document.render.region;
  const set = (step: string, part: Partial<RegionSettings>) =>
    dispatch(
      edit(step, (before) => ({
        ...before,
        render: { ...before.render, region: { ...before.render.region, ...part } },
      })),
    );
  const place = (text: string) => {
    const at = resolveTime(parseTime(text), timing, sound.sampleRate);
    if (at < 0 || at > seconds)
      throw new InputError(`${text} lies outside the sound; allowed is 0 s to ${showSeconds(seconds)}.`);
    return at;
  };
  const mark = (next: Region) => {
    if (next.end <= next.start) throw new InputError('The region has no length; its end has to lie behind its start.');
    dispatch(markedSet({ soundId: sound.id, region: next }));
  };
  const { start, end } = region ?? { start: 0, end: Math.min(seconds, beatSeconds(timing)) };
  return (
    <Grid templateColumns="72px 1fr 92px" gap="2" alignItems="center" fontSize="sm">
      <Text>what</Text>
      <Choice
        label="What is rendered"
        value={whole ? 'whole' : 'region'}
        options={[
          ['whole', 'all of the sound'],
          ['region', 'the region marked on the ruler'],
        ]}
        gridColumn="2 / 4"
        onChange={(what) => {
          const part = { soundId: sound.id, whole: what === 'whole' };
          dispatch(markedSet(what === 'region' && !region ? { ...part, region: { start, end } } : part));
        }}
      />
      {!whole && (
        <>
          <Text>from</Text>
          <HStack gap="2">
            <TypedValue
              label="Region from"
              borderColor="rule"
              text={region ? printTime(round(start)) : 'start'}
              onCommit={(text) => mark({ start: place(text), end })}
            />
            <Text>to</Text>
            <TypedValue
              label="Region to"
              borderColor="rule"
              text={region ? printTime(round(end)) : 'end'}
              onCommit={(text) => mark({ start, end: place(text) })}
            />
          </HStack>
          <Text fontFamily="mono" fontSize="xs" color="faded">
            {region && beats(end - start, document)}
          </Text>
          <Text>behind it</Text>
          <Choice<Beyond>
            label="What the chain hears behind the region"
            value={settings.beyond}
            options={(['auto', 'sound', 'nothing'] as const).map((beyond) => [
              beyond,
              beyond === 'auto'
                ? `${BEYOND_WORDS.auto}: ${BEYOND_WORDS[beyondOf(BUILT_INS, document, 'auto')]}`
                : BEYOND_WORDS[beyond],
            ])}
            gridColumn="2 / 4"
            onChange={(beyond) => set('what is behind a region', { beyond })}
          />
          <Text>time</Text>
          <Choice
            label="What lanes and modulators count from in the region"
            value={settings.time}
            options={[
              ['region', 'begins with the region'],
              ['sound', 'that of the sound, as it is played here'],
            ]}
            gridColumn="2 / 4"
            onChange={(time) => set('the time of a region', { time })}
          />
          {settings.time === 'region' && start > 0 && document.lanes.length + document.routes.length > 0 && (
            <Text gridColumn="2 / 4" fontSize="xs" color="faded">
              What moves begins anew in it; played here, it goes by the time of the sound.
            </Text>
          )}
          <Text>becomes</Text>
          <Choice
            label="What becomes of the region"
            value={settings.splice ? 'splice' : 'clip'}
            options={[
              ['splice', 'spliced into a copy of the sound'],
              ['clip', 'a clip that knows its place'],
            ]}
            gridColumn="2 / 4"
            onChange={(what) => set('what becomes of a region', { splice: what === 'splice' })}
          />
          {settings.splice && (
            <>
              <Text>fade</Text>
              <Choice
                label="What rings around the region"
                value={settings.tail}
                options={[
                  ['overlap', 'what rings around it overlaps'],
                  ['cut', 'what rings around it is cut'],
                ]}
                onChange={(tail) => set('what rings around a region', { tail })}
              />
              <TypedValue
                label="Fade of the splice"
                textAlign="end"
                text={printTime(settings.fade)}
                onCommit={(text) => {
                  return set('fade of the splice', { fade: parseTime(text) });
                }}
              />
            </>
          )}
        </>
      )}
    </Grid>
  );
}

const round = (seconds: number) => Number(seconds.toFixed(6));

function beats(seconds: number, { timing }: ChainDocument): string {
  const count = Number((seconds / beatSeconds(timing)).toFixed(3));
  return `${count} ${count === 1 ? 'beat' : 'beats'}`;
}
