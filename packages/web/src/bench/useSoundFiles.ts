import { useDropzone } from 'react-dropzone';
import { useTakeSound } from '../sounds/useTakeSound.ts';

/** Sound files that are dropped on an element or picked in a dialog are imported; `onSound` gets the first of them. */
export function useSoundFiles(onSound: (id: string) => void) {
  const { take, busy } = useTakeSound();
  const zone = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: async (files) => {
      const [first] = await take(files);
      if (first) onSound(first.id);
    },
  });
  return { ...zone, busy };
}
