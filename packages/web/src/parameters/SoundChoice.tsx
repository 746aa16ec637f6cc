import { NativeSelect } from '@chakra-ui/react';
import { createContext, use } from 'react';
import type { SoundRef } from '@hexenkessel/core/stages';
import { isMeant } from '@hexenkessel/core/engine';
import { useSoundNamesQuery } from '../api/api.ts';
import { useLongOptions } from '../parts/useLongOptions.ts';

/** A branch that may lead a stage in a sound's place. */
export interface LeadingBranch {
  readonly id: string;
  readonly name: string;
}

/** The branches that are run before the stage whose rows are shown. */
export const LeadingBranches = createContext<readonly LeadingBranch[]>([]);

interface Props {
  readonly label: string;
  readonly value: SoundRef;
  /** True when a branch may stand in the sound's place. */
  readonly branches: boolean;
  readonly onChange: (value: SoundRef) => boolean;
}

/** Another sound that a stage uses; one that is named but not there stays chosen and says so. */
export function SoundChoice({ label, value, branches, onChange }: Props) {
  const sounds = useSoundNamesQuery().data ?? [];
  const earlier = use(LeadingBranches);
  const leading = branches ? earlier : [];
  const chosen = value.sound === '' ? undefined : sounds.find((sound) => isMeant(value, sound));
  const missing = value.sound !== '' && !chosen;
  const shown = value.branch === undefined ? (chosen?.id ?? (missing ? 'missing' : '')) : `branch ${value.branch}`;
  const { shown: options, opening } = useLongOptions(sounds, ({ id }) => id === shown);
  const choose = (id: string) => {
    const branch = leading.find((candidate) => `branch ${candidate.id}` === id);
    const sound = sounds.find((candidate) => candidate.id === id);
    if (branch) onChange({ sound: '', branch: branch.id });
    else onChange(sound ? { sound: sound.name, sha256: sound.sha256 } : { sound: '' });
  };
  return (
    <NativeSelect.Root size="xs" variant="plain">
      <NativeSelect.Field
        aria-label={label}
        height="24px"
        fontFamily="mono"
        color={missing ? 'alarm' : undefined}
        value={shown}
        {...opening}
        onChange={(event) => choose(event.currentTarget.value)}
      >
        <option value="">none</option>
        {missing && <option value="missing">{value.sound} (missing)</option>}
        {leading.map(({ id, name }) => (
          <option key={id} value={`branch ${id}`}>
            branch {name}
          </option>
        ))}
        {options.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
