import { Toaster as ChakraToaster, Portal, Stack, Toast, createToaster } from '@chakra-ui/react';

export const toaster = createToaster({ placement: 'bottom-end', max: 4, duration: 9000, pauseOnPageIdle: true });

/** Where what is told is shown. */
export function ToastLayer() {
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
