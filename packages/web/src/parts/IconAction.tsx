import { IconButton, type IconButtonProps } from '@chakra-ui/react';
import { Tip } from './Tip.tsx';

interface Props extends Omit<IconButtonProps, 'aria-label'> {
  readonly label: string;
  /** Shown behind the label in the tooltip. */
  readonly shortcut?: string;
}

/** A button with a picture; its name and key appear on hover and focus. */
export function IconAction({ label, shortcut, ...button }: Props) {
  return (
    <Tip text={shortcut ? `${label} (${shortcut})` : label}>
      <IconButton
        aria-label={label}
        size="xs"
        variant="ghost"
        color="ink"
        minWidth="24px"
        minHeight="24px"
        {...button}
      />
    </Tip>
  );
}
