import { Input, type InputProps } from '@chakra-ui/react';
import { useState } from 'react';
import { InputError } from '@hexenkessel/core/model';
import { tellFailure } from '../app/toaster.tsx';

interface Props extends Omit<InputProps, 'value' | 'onChange'> {
  readonly label: string;
  readonly text: string;
  /** Takes what was typed. Throws InputError, or gives false, when it is not allowed; the old value then stays. */
  readonly onCommit: (text: string) => boolean | void;
}

/** A value that can be typed: Enter or leaving takes it, Escape drops it, a wrong entry is told and changes nothing. */
export function TypedValue({ label, text, onCommit, ...input }: Props) {
  const [typed, setTyped] = useState<string>();
  const commit = () => {
    if (typed !== undefined && typed.trim() !== '' && typed !== text) {
      try {
        onCommit(typed);
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        tellFailure(`${label} stays ${text}`, error.message);
      }
    }
    setTyped(undefined);
  };
  return (
    <Input
      aria-label={label}
      size="xs"
      height="24px"
      px="1.5"
      fontFamily="mono"
      fontVariantNumeric="tabular-nums"
      bg="transparent"
      borderColor="transparent"
      _hover={{ borderColor: 'rule' }}
      value={typed ?? text}
      spellCheck={false}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape') setTyped(undefined);
        event.stopPropagation();
      }}
      {...input}
    />
  );
}
