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
  auto: 'as the chain needs',
  sound: 'sound continues',
  nothing: 'silence, tail rings',
};

/** What is rendered: whole sound or the region, and how that is put back. */
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
    const at = resolveTime(parseTime(text, timing.meter), timing, sound.sampleRate);
    if (at < 0 || at > seconds)
      throw new InputError(`${text} lies outside the sound; allowed is 0 s to ${showSeconds(seconds)}.`);
    return at;
  };
  const mark = (typed: Region) => {
    const next = { start: Math.min(typed.start, typed.end), end: Math.max(typed.start, typed.end) };
    if (next.end === next.start) throw new InputError('The region is empty; its end must be after its start.');
    dispatch(markedSet({ soundId: sound.id, region: next }));
  };
  const { start, end } = region ?? { start: 0, end: Math.min(seconds, beatSeconds(timing)) };
  return (
    <Grid templateColumns="72px 1fr 92px" gap="2" alignItems="center" fontSize="sm">
      <Text>range</Text>
      <Choice
        label="Range"
        value={whole ? 'whole' : 'region'}
        options={[
          ['whole', 'whole sound'],
          ['region', 'region'],
        ]}
        gridColumn="2 / 4"
        onChange={(what) => {
          const part = { soundId: sound.id, whole: what === 'whole' };
          dispatch(markedSet(what === 'region' && !region ? { ...part, region: { start, end } } : part));
        }}
      />
      {!whole && (
        <>
          <Text>start</Text>
          <HStack gap="2">
            <TypedValue
              label="Region start"
              borderColor="rule"
              text={region ? printTime(round(start)) : 'start'}
              onCommit={(text) => mark({ start: place(text), end })}
            />
            <Text>end</Text>
            <TypedValue
              label="Region end"
              borderColor="rule"
              text={region ? printTime(round(end)) : 'end'}
              onCommit={(text) => mark({ start, end: place(text) })}
            />
          </HStack>
          <Text fontFamily="mono" fontSize="xs" color="faded">
            {region && beats(end - start, document)}
          </Text>
          <Text>after the region</Text>
          <Choice<Beyond>
            label="After the region"
            value={settings.beyond}
            options={(['auto', 'sound', 'nothing'] as const).map((beyond) => [
              beyond,
              beyond === 'auto'
                ? `${BEYOND_WORDS.auto}: ${BEYOND_WORDS[beyondOf(BUILT_INS, document, 'auto')]}`
                : BEYOND_WORDS[beyond],
            ])}
            gridColumn="2 / 4"
            onChange={(beyond) => set('after the region', { beyond })}
          />
          <Text>time base</Text>
          <Choice
            label="Time base"
            value={settings.time}
            options={[
              ['region', 'region start'],
              ['sound', 'sound start, as it is played here'],
            ]}
            gridColumn="2 / 4"
            onChange={(time) => set('time base of the region', { time })}
          />
          {settings.time === 'region' && start > 0 && document.lanes.length + document.routes.length > 0 && (
            <Text gridColumn="2 / 4" fontSize="xs" color="faded">
              Lanes and modulators start at the region; played here, they start with the sound.
            </Text>
          )}
          <Text>output</Text>
          <Choice
            label="Output"
            value={settings.splice ? 'splice' : 'clip'}
            options={[
              ['splice', 'spliced into a copy'],
              ['clip', 'separate clip with time reference'],
            ]}
            gridColumn="2 / 4"
            onChange={(what) => set('output of the region', { splice: what === 'splice' })}
          />
          {settings.splice && (
            <>
              <Text>splice tail</Text>
              <Choice
                label="Splice tail"
                value={settings.tail}
                options={[
                  ['overlap', 'overlap'],
                  ['cut', 'cut'],
                ]}
                onChange={(tail) => set('splice tail', { tail })}
              />
              <TypedValue
                label="Crossfade of the splice"
                textAlign="end"
                text={printTime(settings.fade)}
                onCommit={(text) => {
                  return set('crossfade of the splice', { fade: parseTime(text, timing.meter) });
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
