import { Portal } from '@chakra-ui/react';
import type { ReactNode } from 'react';

const main = {
  get current() {
    return document.getElementById('main');
  },
};

/** Where menus are put: into the main part of the page, so that whoever goes by landmarks finds them there. */
export function MainPortal({ children }: { readonly children: ReactNode }) {
  return <Portal container={main}>{children}</Portal>;
}
