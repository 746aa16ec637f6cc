import { useRef, type ReactElement } from 'react';

/** A way to ask for a file: an input to be put somewhere on the page, unseen, and what opens it. */
export interface FilePick {
  readonly input: ReactElement;
  readonly open: () => void;
}

/** `accept`: endings of names, with commas. The same file can be taken again. */
export function useFilePick(label: string, accept: string, onFile: (file: File) => void): FilePick {
  const input = useRef<HTMLInputElement>(null);
  return {
    input: (
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={label}
        onChange={(event) => {
          const file = event.currentTarget.files?.[0];
          event.currentTarget.value = '';
          if (file) onFile(file);
        }}
      />
    ),
    open: () => input.current?.click(),
  };
}
