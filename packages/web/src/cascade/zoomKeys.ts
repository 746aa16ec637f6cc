/** The keys that zoom, listened to and shown from one list. */
export const ZOOM_KEYS = {
  in: { keys: 'z', shown: 'Z', does: 'zoom in on the ruler; also Ctrl and the wheel' },
  out: { keys: 'shift+z', shown: 'Shift+Z', does: 'zoom out' },
  fit: { keys: 'f', shown: 'F', does: 'zoom to the region, and back to everything' },
  pan: { keys: 'mod+left, mod+right', shown: 'Ctrl+← →', does: 'show what lies before or after' },
} as const;
