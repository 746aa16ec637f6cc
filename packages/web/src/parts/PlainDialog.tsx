import { CloseButton, Dialog, Portal } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly size?: 'md' | 'lg';
  readonly footer?: ReactNode;
  readonly children: ReactNode;
  readonly onClose: () => void;
}

/** A dialog with a title, a body and, below it, what can be done. */
export function PlainDialog({ title, size = 'md', footer, children, onClose }: Props) {
  return (
    <Dialog.Root open onOpenChange={onClose} placement="center" size={size}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            <Dialog.Header pb="1">
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            {footer && <Dialog.Footer>{footer}</Dialog.Footer>}
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
