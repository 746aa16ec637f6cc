import { Button, CloseButton, Dialog, Input, Portal } from '@chakra-ui/react';
import { useRef, useState } from 'react';

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
    <Dialog.Root open onOpenChange={onClose} initialFocusEl={() => input.current} placement="center" size="xs">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            <form
              onSubmit={(event) => {
                event.preventDefault();
                onDone(name.trim());
                onClose();
              }}
            >
              <Dialog.Header pb="1">
                <Dialog.Title>{title}</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                <Input
                  ref={input}
                  aria-label={title}
                  value={name}
                  maxLength={maxLength}
                  onChange={(event) => setName(event.currentTarget.value)}
                />
              </Dialog.Body>
              <Dialog.Footer>
                <Button type="submit" size="sm" colorPalette="copperInk">
                  Name it
                </Button>
              </Dialog.Footer>
            </form>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
