import { Button, Checkbox, Grid, Stack, Text } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm, useWatch, type Control } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { ZodType } from 'zod';
import {
  InputError,
  parseLevel,
  parseTime,
  printLevel,
  printTime,
  resolveTime,
  showSeconds,
} from '@hexenkessel/core/model';
import { layOut } from '@hexenkessel/core/engine';
import { placeText } from '@hexenkessel/core/formats';
import {
  MIX_LEVEL,
  MIX_OFFSET,
  mixOrderSchema,
  type Mixed,
  type MixOrder,
  type Sound,
} from '@hexenkessel/core/protocol';
import { problemOf, useMixSoundsMutation } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';

/** The order of the route, all of it said. */
type CompleteOrder = ZodType<MixOrder, MixOrder>;

interface Props {
  readonly sounds: readonly Sound[];
  /** As they were mixed before. */
  readonly mixed?: Mixed | null;
  readonly name?: string;
  readonly onClose: () => void;
}

/** Mixes several sounds into one that is kept and knows what it was mixed from. */
export function MixSounds({ sounds, mixed = null, name: given = 'Mix', onClose }: Props) {
  const { control, handleSubmit, formState } = useForm<MixOrder>({
    resolver: zodResolver(mixOrderSchema() as CompleteOrder),
    defaultValues: {
      name: given,
      lay: mixed?.lay ?? 'place',
      parts: sounds.map(({ id }, n) => {
        const { level = 0, muted = false, offset = 0 } = mixed?.parts[n] ?? {};
        return { soundId: id, level, muted, offset };
      }),
    },
  });
  const lay = useWatch({ control, name: 'lay' });
  const parts = useWatch({ control, name: 'parts' });
  const [mix] = useMixSoundsMutation();
  const navigate = useNavigate();
  const { starts, seconds, refusal } = laidOut(sounds, parts, lay);
  const make = async (order: MixOrder) => {
    const result = await mix(order);
    if ('error' in result) tellFailure('Not mixed', problemOf(result.error).detail);
    else {
      onClose();
      void navigate(`/sounds/${result.data.id}`);
    }
  };
  return (
    <PlainDialog
      title={`Mix ${sounds.length} ${sounds.length === 1 ? 'sound' : 'sounds'}`}
      size="lg"
      onSubmit={() => void handleSubmit(make)()}
      onClose={onClose}
      footer={
        <Button
          type="submit"
          size="sm"
          colorPalette="copperInk"
          disabled={refusal !== undefined}
          loading={formState.isSubmitting}
        >
          Mix {sounds.length}
        </Button>
      }
    >
      <Stack gap="3" fontSize="sm">
        <Grid templateColumns="72px 1fr" gap="2" alignItems="center">
          <Text>name</Text>
          <Controller
            control={control}
            name="name"
            render={({ field }) => (
              <TypedValue
                label="Name of the mix"
                borderColor="rule"
                text={field.value}
                maxLength={200}
                onCommit={field.onChange}
              />
            )}
          />
          <Text>lay out</Text>
          <Controller
            control={control}
            name="lay"
            render={({ field }) => (
              <Choice
                label="Lay out"
                value={field.value}
                options={[
                  ['place', 'each at its time reference'],
                  ['start', 'all from the same start'],
                ]}
                onChange={field.onChange}
              />
            )}
          />
        </Grid>
        <Grid
          templateColumns="1fr 84px 92px 56px 84px"
          columnGap="2"
          rowGap="1"
          alignItems="center"
          maxHeight="44vh"
          overflowY="auto"
          position="relative"
          py="1"
        >
          {['sound', 'level', 'offset', 'mute', 'begins at'].map((title) => (
            <Text key={title} fontSize="xs" color="faded">
              {title}
            </Text>
          ))}
          {sounds.map((sound, n) => (
            <PartRow
              key={`${sound.id} ${n}`}
              sound={sound}
              n={n}
              control={control}
              muted={parts[n].muted}
              start={starts[n]}
            />
          ))}
        </Grid>
        <Text fontSize="xs" color={refusal === undefined ? 'faded' : 'alarm'} role="status">
          {refusal ??
            `${showSeconds(seconds)} in all. ${lay === 'place' ? placesText(sounds) : ''} Nothing is limited: peaks over 0 dBFS are kept.`}
        </Text>
      </Stack>
    </PlainDialog>
  );
}

interface RowProps {
  readonly sound: Sound;
  /** Which part of the mix it is. */
  readonly n: number;
  readonly control: Control<MixOrder>;
  readonly muted: boolean;
  /** Seconds from the first frame of the mix. */
  readonly start: number;
}

function PartRow({ sound, n, control, muted, start }: RowProps) {
  return (
    <>
      <Text truncate title={sound.name} color={sound.missing ? 'alarm' : muted ? 'faded' : 'ink'}>
        {sound.name}
      </Text>
      <Controller
        control={control}
        name={`parts.${n}.level`}
        render={({ field }) => (
          <TypedValue
            label={`Level of ${sound.name}`}
            borderColor="rule"
            text={printLevel(field.value)}
            onCommit={(text) => field.onChange(within(parseLevel(text), MIX_LEVEL, 'dB'))}
          />
        )}
      />
      <Controller
        control={control}
        name={`parts.${n}.offset`}
        render={({ field }) => (
          <TypedValue
            label={`Offset of ${sound.name}`}
            borderColor="rule"
            text={printTime(field.value)}
            onCommit={(text) => field.onChange(within(readOffset(text, sound), MIX_OFFSET, 's'))}
          />
        )}
      />
      <Controller
        control={control}
        name={`parts.${n}.muted`}
        render={({ field }) => (
          <Checkbox.Root
            size="sm"
            checked={field.value}
            onCheckedChange={({ checked }) => field.onChange(checked === true)}
          >
            <Checkbox.HiddenInput aria-label={`Mute ${sound.name}`} />
            <Checkbox.Control borderColor="faded" />
          </Checkbox.Root>
        )}
      />
      <Text fontFamily="mono" fontSize="xs" color="faded">
        {showSeconds(start)}
      </Text>
    </>
  );
}

/** Beats are those of the sound's own tempo. */
function readOffset(text: string, { tempo, sampleRate }: Sound): number {
  const meter = [4, 4] as const;
  return resolveTime(parseTime(text, meter), { tempo: tempo ?? 120, meter }, sampleRate);
}

function within(value: number, { min, max }: { readonly min: number; readonly max: number }, unit: string): number {
  if (value >= min && value <= max) return value;
  throw new InputError(`${value} ${unit} is out of range; allowed is ${min} to ${max} ${unit}.`);
}

/** Where each begins, how long it gets, and why there is no mix. */
function laidOut(sounds: readonly Sound[], parts: MixOrder['parts'], lay: Mixed['lay']) {
  const rate = Math.max(...sounds.map(({ sampleRate }) => sampleRate));
  const { at } = layOut(
    sounds.map((sound, n) => ({ ...sound, offset: parts[n].offset })),
    lay,
    rate,
  );
  const starts = at.map((frame) => frame / rate);
  const lost = sounds.find(({ missing }) => missing);
  return {
    starts,
    seconds: Math.max(...sounds.map((sound, n) => starts[n] + sound.frames / sound.sampleRate)),
    refusal: lost
      ? `The audio of “${lost.name}” is missing on disk.`
      : parts.every(({ muted }) => muted)
        ? 'All are muted; at least one must be heard.'
        : undefined,
  };
}

/** Which of them lie where sources are taken to lie. */
function placesText(sounds: readonly Sound[]): string {
  const assumed = sounds.filter(({ timeReference }) => timeReference === null);
  if (assumed.length === 0) return '';
  return `${assumed.length === sounds.length ? 'None' : assumed.map(({ name }) => name).join(', ')} ${assumed.length === sounds.length ? 'says where it lies: all are laid at' : 'does not say where it lies: laid at'} ${placeText(assumed[0])}.`;
}
