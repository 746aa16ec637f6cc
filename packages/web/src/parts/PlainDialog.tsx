import type { ReactNode } from 'react';
import { laterPart } from './laterPart.tsx';

export interface PlainDialogProps {
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

export const ShownDialog = laterPart(async () => (await import('./ShownDialog.tsx')).ShownDialog);

/** A dialog with a title, a body and, below it, what can be done. */
export const PlainDialog = (props: PlainDialogProps) => <ShownDialog.Part {...props} />;
