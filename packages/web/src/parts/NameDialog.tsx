import { Button, Input } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import { PlainDialog } from './PlainDialog.tsx';

interface Props {
  readonly title: string;
  readonly value: string;
  readonly maxLength: number;
  readonly onDone: (name: string) => void;
  readonly onClose: () => void;
}

/** Asks for a name; empty is allowed. */
export function NameDialog({ title, value, maxLength, onDone, onClose }: Props) {
  const [name, setName] = useState(value);
  const input = useRef<HTMLInputElement>(null);
  return (
    <PlainDialog
      title={title}
      size="xs"
      firstFocus={() => input.current}
      onSubmit={() => {
        onDone(name.trim());
        onClose();
      }}
      onClose={onClose}
      footer={
        <Button type="submit" size="sm" colorPalette="copperInk">
          Name it
        </Button>
      }
    >
      <Input
        ref={input}
        aria-label={title}
        value={name}
        maxLength={maxLength}
        onChange={(event) => setName(event.currentTarget.value)}
      />
    </PlainDialog>
  );
}
