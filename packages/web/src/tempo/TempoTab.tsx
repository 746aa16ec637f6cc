import { Box, Button, Flex, Grid, HStack, Link, Stack, Table, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { showFrequency, showSeconds } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { underTempo, type ChainDocument, type TempoEffect, edits } from '@hexenkessel/core/chain';
import type { TempoEstimate } from '@hexenkessel/core/analysis';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useChangeSoundMutation } from '../api/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { useRenderer } from '../cascade/useRenderer.ts';
import { useShown, useShownSound } from '../chain/shownChain.ts';
import { edit } from '../chain/edit.ts';
import { MidiTempo } from '../bench/MidiTempo.tsx';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { Tap } from './Tap.tsx';
import { readTempo } from './readTempo.ts';

/** Where the tempo comes from, and what another one would do to the chain. */
export function TempoTab() {
  const document = useShown((chain) => chain);
  const sound = useShownSound();
  const dispatch = useAppDispatch();
  const { timing } = document;
  const setTempo = (tempo: number, from?: string) => dispatch(edit(edits.setTempo(tempo, from)));
  return (
    <Stack gap="3" height="100%" minHeight="0" overflowY="auto" pr="1" fontSize="sm">
      <Grid templateColumns="92px 1fr" gap="2" alignItems="center">
        <Text>the chain’s</Text>
        <HStack gap="2">
          <TypedValue
            label="Tempo of the chain"
            text={`${timing.tempo} bpm`}
            width="92px"
            borderColor="rule"
            onCommit={(text) => setTempo(readTempo(text))}
          />
          <Tap onTempo={(tempo) => setTempo(tempo, 'tapped tempo')} />
          <MidiTempo at={0} />
        </HStack>
        <Text>tempo source</Text>
        <Choice
          label="Tempo source"
          value={timing.follows}
          options={[
            ['chain', 'chain, on every sound'],
            ['sound', 'sound (if known)'],
          ]}
          onChange={(follows) => dispatch(edit(edits.followTempo(follows)))}
        />
        <Text>the sound’s</Text>
        <SoundTempo sound={sound} onChain={(tempo) => setTempo(tempo, `tempo of ${sound.name}`)} />
      </Grid>
      <OtherTempo document={document} />
      <Link asChild color="copper" fontSize="sm">
        <RouterLink to={`/reference/tempo?bpm=${timing.tempo}`}>Every note value at this tempo</RouterLink>
      </Link>
    </Stack>
  );
}

/** The tempo kept with the sound: found in it, chosen among what it may be, or typed. */
function SoundTempo({ sound, onChain }: { readonly sound: Sound; readonly onChain: (tempo: number) => void }) {
  const renderer = useRenderer();
  const [changeSound] = useChangeSoundMutation();
  const [estimate, setEstimate] = useState<{ id: string; found: TempoEstimate }>();
  const [busy, setBusy] = useState(false);
  const keep = async (tempo: number | null) => {
    const result = await changeSound({ id: sound.id, change: { tempo } });
    if ('error' in result) tellFailure('The tempo was not saved', problemOf(result.error).detail);
  };
  const find = async () => {
    setBusy(true);
    const found = await renderer.soundTempo().finally(() => setBusy(false));
    if (found) setEstimate({ id: sound.id, found });
  };
  const found = estimate?.id === sound.id ? estimate.found : undefined;
  const small = { size: '2xs', variant: 'outline', borderColor: 'rule' } as const;
  return (
    <Box>
      <HStack gap="2">
        <TypedValue
          label="Tempo of the sound"
          text={sound.tempo === null ? 'not known' : `${sound.tempo} bpm`}
          width="92px"
          borderColor="rule"
          onCommit={(text) => void keep(readTempo(text))}
        />
        <Button {...small} loading={busy} onClick={() => void find()}>
          detect
        </Button>
        {sound.tempo !== null && (
          <>
            <Button {...small} onClick={() => onChain(sound.tempo ?? 120)}>
              use for the chain
            </Button>
            <Button {...small} onClick={() => void keep(null)}>
              clear
            </Button>
          </>
        )}
      </HStack>
      {found && (
        <Flex gap="1" wrap="wrap" mt="1" align="center" role="group" aria-label="What the tempo may be">
          {found.candidates.map(({ tempo, strength }, n) => (
            <Button
              key={tempo}
              size="2xs"
              variant={sound.tempo === tempo ? 'solid' : 'outline'}
              borderColor="rule"
              onClick={() => void keep(tempo)}
            >
              {tempo} bpm{n > 0 ? `, ${Math.round(100 * strength)} %` : ''}
            </Button>
          ))}
          <Text fontSize="xs" color="faded">
            {found.candidates.length === 0
              ? 'No tempo detected.'
              : found.clarity < 0.2
                ? 'Low confidence; do not rely on this.'
                : 'The likeliest first. Choosing saves it with the sound.'}
          </Text>
        </Flex>
      )}
    </Box>
  );
}

/** What would follow another tempo, and what would stay. */
function OtherTempo({ document }: { readonly document: ChainDocument }) {
  const [other, setOther] = useState(document.timing.tempo === 120 ? 90 : 120);
  const effects = underTempo(BUILT_INS, document, other);
  const [follow, stay] = [effects.filter(({ follows }) => follows), effects.filter(({ follows }) => !follows)];
  if (effects.length === 0) return <Text color="faded">This chain has no times or rates: tempo changes nothing.</Text>;
  return (
    <Box>
      <HStack gap="2" mb="1">
        <Text>Under</Text>
        <TypedValue
          label="Another tempo"
          text={`${other} bpm`}
          width="86px"
          borderColor="rule"
          onCommit={(text) => setOther(readTempo(text))}
        />
        <Text color="faded">
          {follow.length === 0
            ? 'nothing changes'
            : `${follow.length} ${follow.length === 1 ? 'time' : 'times'} would follow`}
          , {stay.length} would stay
        </Text>
      </HStack>
      <Table.Root size="sm" fontSize="xs" css={{ '& td, & th': { paddingBlock: '3px', background: 'transparent' } }}>
        <Table.Header>
          <Table.Row bg="transparent">
            {['parameter', 'setting', 'now', `at ${other}`].map((text) => (
              <Table.ColumnHeader key={text} px="1" fontSize="xs">
                {text}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {[...follow, ...stay].map((effect, n) => (
            <EffectLine key={n} effect={effect} />
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

function EffectLine({ effect }: { readonly effect: TempoEffect }) {
  const { owner, label, written, now, then, unit, follows, outOfRange } = effect;
  const show = unit === 'seconds' ? showSeconds : showFrequency;
  return (
    <Table.Row bg="transparent" color={follows ? 'ink' : 'faded'}>
      <Table.Cell px="1" maxWidth="140px" truncate title={`${owner}, ${label}`}>
        {owner}, {label}
      </Table.Cell>
      <Table.Cell px="1" fontFamily="mono">
        {written}
      </Table.Cell>
      <Table.Cell px="1" fontFamily="mono">
        {show(now)}
      </Table.Cell>
      <Table.Cell px="1" fontFamily="mono" color={outOfRange ? 'alarm' : undefined}>
        {follows ? show(then) : 'stays'}
        {outOfRange ? ' – too far' : ''}
      </Table.Cell>
    </Table.Row>
  );
}
