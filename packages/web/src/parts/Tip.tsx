import { Portal, Tooltip } from '@chakra-ui/react';
import type { ReactElement } from 'react';

/** A short text beside what the pointer or the focus is on. */
export function Tip({ text, children }: { text: string; children: ReactElement }) {
  return (
    <Tooltip.Root openDelay={400} closeDelay={50} positioning={{ placement: 'bottom' }}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Portal>
        <Tooltip.Positioner>
          <Tooltip.Content bg="ink" color="paper" fontSize="xs">
            {text}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </Portal>
    </Tooltip.Root>
  );
}
