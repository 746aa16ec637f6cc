import { CloseButton, Dialog, Portal } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly size?: 'xs' | 'md' | 'lg';
  readonly footer?: ReactNode;
  readonly children: ReactNode;
  /** What has the focus at first; else the first thing that can. */
  readonly firstFocus?: () => HTMLElement | null;
  /** Makes it a form, which Enter sends off. */
  readonly onSubmit?: () => void;
  readonly onClose: () => void;
}

/** A dialog with a title, a body and, below it, what can be done. */
export function PlainDialog({ title, size = 'md', footer, children, firstFocus, onSubmit, onClose }: Props) {
  const inside = (
    <>
      <Dialog.Header pb="1">
        <Dialog.Title>{title}</Dialog.Title>
      </Dialog.Header>
      <Dialog.Body>{children}</Dialog.Body>
      {footer && <Dialog.Footer>{footer}</Dialog.Footer>}
    </>
  );
  return (
    <Dialog.Root
      open
      onOpenChange={onClose}
      placement="center"
      size={size}
      {...(firstFocus ? { initialFocusEl: firstFocus } : {})}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet">
            {onSubmit ? (
              <form
                onSubmit={(event) => {
                  event.preventDefault();
                  onSubmit();
                }}
              >
                {inside}
              </form>
            ) : (
              inside
            )}
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
