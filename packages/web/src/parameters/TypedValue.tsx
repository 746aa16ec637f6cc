import { Box, Input, Text, type InputProps } from '@chakra-ui/react';
import { useId, useRef, useState } from 'react';
import { refusalOf } from '../app/refusals.ts';

interface Props extends Omit<InputProps, 'value' | 'onChange'> {
  readonly label: string;
  readonly text: string;
  /** Takes what was typed. Throws InputError, or gives false, when it is not allowed; the old value then stays. */
  readonly onCommit: (text: string) => boolean | void;
}

/**
 * A value that can be typed: Enter or leaving takes it, Escape drops it. What is wrong is told under it and changes
 * nothing. After Enter the keys belong to the page again, from this place on.
 */
export function TypedValue({ label, text, onCommit, width, flex, gridColumn, ...input }: Props) {
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState<string>();
  const place = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  const drop = () => {
    setTyped(undefined);
    setWrong(undefined);
  };
  /** True when nothing stands in the field that is not allowed. */
  const commit = (): boolean => {
    if (typed !== undefined && typed.trim() !== '' && typed !== text) {
      const refused = refusalOf(() => onCommit(typed));
      if (refused !== undefined) {
        setWrong(refused);
        return false;
      }
    }
    drop();
    return true;
  };
  return (
    <Box
      ref={place}
      position="relative"
      tabIndex={-1}
      width={width ?? '100%'}
      flex={flex}
      gridColumn={gridColumn}
      borderRadius="l1"
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || event.target !== place.current) return;
        event.preventDefault();
        field.current?.focus();
      }}
    >
      <Input
        ref={field}
        aria-label={label}
        aria-invalid={wrong !== undefined}
        aria-describedby={wrong === undefined ? undefined : id}
        size="xs"
        height="24px"
        px="1.5"
        fontFamily="mono"
        fontVariantNumeric="tabular-nums"
        bg="transparent"
        borderColor={wrong === undefined ? 'transparent' : 'alarm'}
        _hover={{ borderColor: wrong === undefined ? 'rule' : 'alarm' }}
        value={typed ?? text}
        spellCheck={false}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setWrong(undefined);
        }}
        onBlur={() => {
          if (wrong === undefined) commit();
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Escape') drop();
          if (event.key !== 'Enter') return;
          // In a form it takes the value; it does not send the form off.
          event.preventDefault();
          if (commit()) place.current?.focus();
        }}
        {...input}
      />
      {wrong !== undefined && (
        <Text
          id={id}
          ref={intoSight}
          role="alert"
          position="absolute"
          {...(nearBottom(place.current) ? { bottom: '100%' } : { top: '100%' })}
          insetInlineEnd="0"
          zIndex="docked"
          minWidth="100%"
          width="max-content"
          maxWidth="300px"
          px="2"
          py="0.5"
          bg="sheet"
          color="alarm"
          borderWidth="1px"
          borderColor="alarm"
          borderRadius="l1"
          fontFamily="body"
          fontSize="xs"
          lineHeight="1.3"
        >
          {wrong} It stays {text}.
        </Text>
      )}
    </Box>
  );
}

/** One function for all messages: a new one at each drawing would scroll each time. */
function intoSight(message: HTMLElement | null): void {
  message?.scrollIntoView({ block: 'nearest' });
}

/** Pixels that a message of two or three lines takes. */
const MESSAGE_HEIGHT = 64;

function nearBottom(element: Element | null): boolean {
  return element !== null && element.getBoundingClientRect().bottom + MESSAGE_HEIGHT > window.innerHeight;
}
