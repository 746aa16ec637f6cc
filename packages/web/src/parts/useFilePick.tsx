import type { ReactElement } from 'react';
import { useDropzone } from 'react-dropzone';

/** A way to ask for a file: an input to be put somewhere on the page, unseen, and what opens it. */
export interface FilePick {
  readonly input: ReactElement;
  readonly open: () => void;
}

/** `endings`: of the names that are offered. The same file can be taken again. */
export function useFilePick(label: string, endings: readonly string[], onFile: (file: File) => void): FilePick {
  const { getInputProps, open } = useDropzone({
    noDrag: true,
    noClick: true,
    noKeyboard: true,
    multiple: false,
    // Only offered: what a file holds is looked at when it is read, and said then.
    onDrop: ([file], [refused]) => {
      const taken = file ?? refused?.file;
      if (taken) onFile(taken);
    },
  });
  return { input: <input {...getInputProps({ accept: endings.join(',') })} aria-label={label} />, open };
}
