import { Toaster as ChakraToaster, Portal, Stack, Toast, createToaster } from '@chakra-ui/react';

const toaster = createToaster({ placement: 'bottom-end', max: 4, duration: 9000, pauseOnPageIdle: true });

export function tellFailure(title: string, detail: string): void {
  toaster.create({ type: 'error', title, description: detail, closable: true });
}

export function tellDone(title: string, detail?: string): void {
  toaster.create({ type: 'success', title, description: detail ?? '', closable: true, duration: 5000 });
}

/** Something was done, but not quite as one might think. */
export function tellWarning(title: string, detail: string): void {
  toaster.create({ type: 'warning', title, description: detail, closable: true });
}

export function Toaster() {
  return (
    <Portal>
      <ChakraToaster toaster={toaster} insetInline="4">
        {(toast) => (
          <Toast.Root
            width="sm"
            bg="sheet"
            color="ink"
            borderWidth="1px"
            borderLeftWidth="6px"
            borderColor={toast.type === 'error' ? 'alarm' : toast.type === 'warning' ? 'copper' : 'verdigris'}
          >
            <Stack gap="1" flex="1" maxWidth="100%">
              <Toast.Title color="ink">{toast.title}</Toast.Title>
              {toast.description && <Toast.Description color="ink">{toast.description}</Toast.Description>}
            </Stack>
            <Toast.CloseTrigger color="ink" />
          </Toast.Root>
        )}
      </ChakraToaster>
    </Portal>
  );
}
