import { NativeSelect } from '@chakra-ui/react';
import { isMeant, type SoundRef } from '@hexenkessel/core';
import { useSoundsQuery } from '../api/api.ts';

interface Props {
  readonly label: string;
  readonly value: SoundRef;
  readonly onChange: (value: SoundRef) => boolean;
}

/** Another sound that a stage uses; one that is named but not there stays chosen and says so. */
export function SoundChoice({ label, value, onChange }: Props) {
  const sounds = useSoundsQuery().data ?? [];
  const chosen = value.sound === '' ? undefined : sounds.find((sound) => isMeant(value, sound));
  const missing = value.sound !== '' && !chosen;
  return (
    <NativeSelect.Root size="xs" variant="plain">
      <NativeSelect.Field
        aria-label={label}
        height="24px"
        fontFamily="mono"
        color={missing ? 'alarm' : undefined}
        value={chosen?.id ?? (missing ? 'missing' : '')}
        onChange={(event) => {
          const sound = sounds.find(({ id }) => id === event.currentTarget.value);
          onChange(sound ? { sound: sound.name, sha256: sound.sha256 } : { sound: '' });
        }}
      >
        <option value="">none</option>
        {missing && <option value="missing">{value.sound} (missing)</option>}
        {sounds.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
