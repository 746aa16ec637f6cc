import { Grid, Text } from '@chakra-ui/react';
import { BUILT_INS, type SoundRef } from '@hexenkessel/core/stages';
import { withSoundFor, type ChainDocument } from '@hexenkessel/core/chain';
import { isMeant, soundUses } from '@hexenkessel/core/engine';
import type { SoundName } from '@hexenkessel/core/protocol';
import { Choice } from '../parts/Choice.tsx';

/** A sound that a chain names and that is not here, with what in the chain uses it. */
export interface MissingSound {
  readonly key: string;
  readonly ref: SoundRef;
  readonly users: readonly string[];
}

export function missingSounds(document: ChainDocument, sounds: readonly SoundName[]): MissingSound[] {
  const missing = new Map<string, MissingSound>();
  for (const { owner, label, ref } of soundUses(BUILT_INS, document)) {
    if (sounds.some((sound) => isMeant(ref, sound))) continue;
    const key = `${ref.sha256 ?? ''} ${ref.sound}`;
    const users = [...(missing.get(key)?.users ?? []), `${label} of ${owner}`];
    missing.set(key, { key, ref, users });
  }
  return [...missing.values()];
}

/** The chain with what was chosen in place of sounds that are not here; `chosen`: ids of sounds by the keys of the missing. */
export function withChosen(
  document: ChainDocument,
  sounds: readonly SoundName[],
  chosen: Readonly<Record<string, string>>,
): ChainDocument {
  return missingSounds(document, sounds).reduce((before, { key, ref }) => {
    const sound = sounds.find(({ id }) => id === chosen[key]);
    return sound ? withSoundFor(before, ref, { sound: sound.name, sha256: sound.sha256 }) : before;
  }, document);
}

interface Props {
  readonly missing: readonly MissingSound[];
  readonly sounds: readonly SoundName[];
  readonly chosen: Readonly<Record<string, string>>;
  readonly onChoose: (key: string, id: string) => void;
}

/** The sounds that an arriving chain names and that are not here, each with another one to choose. */
export function MissingSounds({ missing, sounds, chosen, onChoose }: Props) {
  if (missing.length === 0) return null;
  return (
    <>
      <Text mt="3" fontWeight="600">
        {missing.length === 1
          ? 'One sound that it names is not here'
          : `${missing.length} sounds that it names are not here`}
      </Text>
      <Text fontSize="sm" color="faded" mb="1">
        Without them these stages do less, and say so. They are used as soon as they come.
      </Text>
      <Grid templateColumns="1fr 220px" gap="2" alignItems="center">
        {missing.map(({ key, ref, users }) => (
          <Grid key={key} templateColumns="subgrid" gridColumn="1 / -1" alignItems="center">
            <Text>
              “{ref.sound}”{' '}
              <Text as="span" fontSize="sm" color="faded">
                {users.join(', ')}
              </Text>
            </Text>
            <Choice
              label={`Instead of ${ref.sound}`}
              value={chosen[key] ?? ''}
              options={[['', 'choose another'], ...sounds.map(({ id, name }) => [id, name] as const)]}
              onChange={(id) => onChoose(key, id)}
            />
          </Grid>
        ))}
      </Grid>
    </>
  );
}
