import { CloseButton, Dialog, Portal } from '@chakra-ui/react';
import type { PlainDialogProps } from './PlainDialog.tsx';

/** What `PlainDialog` shows; apart, for dialogs are large and seldom the first that one needs of a view. */
export function ShownDialog({ title, size = 'md', footer, children, firstFocus, onSubmit, onClose }: PlainDialogProps) {
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
