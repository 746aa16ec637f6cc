/** The bricks of RIFF files: chunks, little-endian numbers, text. */

/** A chunk with its head; a whole number of words long. */
export function chunk(name: string, body: Uint8Array): Uint8Array {
  return join([ascii(name, 4), words([[4, body.length]]), body, new Uint8Array(body.length % 2)]);
}

/** Little-endian numbers of 2 or 4 bytes. */
export function words(values: readonly (readonly [2 | 4, number])[]): Uint8Array {
  const bytes = new Uint8Array(values.reduce((sum, [size]) => sum + size, 0));
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (const [size, value] of values) {
    if (size === 2) view.setUint16(at, value, true);
    else view.setUint32(at, value, true);
    at += size;
  }
  return bytes;
}

/** Text cut or filled up with zeros to a length. */
export function ascii(text: string, length: number): Uint8Array {
  const bytes = new Uint8Array(length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}

export function join(parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
