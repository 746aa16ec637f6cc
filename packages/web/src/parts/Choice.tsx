import { NativeSelect, type NativeSelectRootProps } from '@chakra-ui/react';
import { useLongOptions } from './useLongOptions.ts';

interface Props<T extends string> extends Omit<NativeSelectRootProps, 'onChange'> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (readonly [T, string])[];
  readonly onChange: (value: T) => void;
}

/** One of several words. */
export function Choice<T extends string>({ label, value, options, onChange, ...root }: Props<T>) {
  const { shown, opening } = useLongOptions(options, ([key]) => key === value);
  return (
    <NativeSelect.Root size="xs" {...root}>
      <NativeSelect.Field
        aria-label={label}
        height="26px"
        bg="transparent"
        borderColor="rule"
        value={value}
        {...opening}
        onChange={(event) => onChange(event.currentTarget.value as T)}
      >
        {shown.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
