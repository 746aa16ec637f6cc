import type { DragEvent } from 'react';
import { audioUrl } from '../api/api.ts';

/** What makes an element something to drag a sound by, into another program as a WAV file of 24 bits. */
export function dragOut(soundId: string, name: string) {
  return {
    draggable: true,
    onDragStart: (event: DragEvent) => {
      const url = new URL(audioUrl(soundId, { depth: '24' }), window.location.href).href;
      // A file name may hold no colon here: it parts the three.
      event.dataTransfer.setData('DownloadURL', `audio/wav:${name.replace(/[:/\\]/g, '-')}.wav:${url}`);
      event.dataTransfer.setData('text/uri-list', url);
      event.dataTransfer.effectAllowed = 'copy';
    },
  };
}
