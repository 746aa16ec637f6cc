import { Grid, HStack, Text } from '@chakra-ui/react';
import { InputError, beatSeconds, parseTime, printTime, resolveTime, showSeconds } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { type Beyond, type ChainDocument, type RegionSettings, edits } from '@hexenkessel/core/chain';
import { beyondOf } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppDispatch } from '../app/store.ts';
import { mark, type Marked, type Region } from '../chain/playbackSlice.ts';
import { regionBetween } from '../chain/region.ts';
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
  const set = (part: Partial<RegionSettings>) => dispatch(edit(edits.changeRegion(part)));
  const place = (text: string) => {
    const at = resolveTime(parseTime(text, timing.meter), timing, sound.sampleRate);
    if (at < 0 || at > seconds)
      throw new InputError(`${text} lies outside the sound; allowed is 0 s to ${showSeconds(seconds)}.`);
    return at;
  };
  const markTyped = ({ start: one, end: other }: Region) =>
    dispatch(mark(sound.id, { region: regionBetween(one, other) }));
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
          const part = { whole: what === 'whole' };
          dispatch(mark(sound.id, what === 'region' && !region ? { ...part, region: { start, end } } : part));
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
              onCommit={(text) => markTyped({ start: place(text), end })}
            />
            <Text>end</Text>
            <TypedValue
              label="Region end"
              borderColor="rule"
              text={region ? printTime(round(end)) : 'end'}
              onCommit={(text) => markTyped({ start, end: place(text) })}
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
            onChange={(beyond) => set({ beyond })}
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
            onChange={(time) => set({ time })}
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
            onChange={(what) => set({ splice: what === 'splice' })}
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
                onChange={(tail) => set({ tail })}
              />
              <TypedValue
                label="Crossfade of the splice"
                textAlign="end"
                text={printTime(settings.fade)}
                onCommit={(text) => {
                  return set({ fade: parseTime(text, timing.meter) });
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
