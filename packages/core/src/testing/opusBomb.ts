/** An Ogg Opus file of silence that unpacks to thousands of times its size (RFC 3533, 6716, 7845). */

const SERIAL = 7;
/** Frames at 48 kHz of a packet of two bytes: two frames of 60 ms, of which nothing is sent. */
const PACKET = Uint8Array.of(0x1b, 0x02);
const PACKET_FRAMES = 5760;
const PACKETS = 255;
const BEGINS = 2;
const ENDS = 4;

/** `granule` is what the last page says of its length; −1: nothing. */
export function opusBomb(seconds: number, granule = -1): Uint8Array {
  const pages = Math.ceil((seconds * 48000) / (PACKET_FRAMES * PACKETS));
  const text = (word: string) => [...new TextEncoder().encode(word)];
  const head = Uint8Array.from([...text('OpusHead'), 1, 1, 0, 0, 0x80, 0xbb, 0, 0, 0, 0, 0]);
  const tags = Uint8Array.from([...text('OpusTags'), 0, 0, 0, 0, 0, 0, 0, 0]);
  const silence = Array.from({ length: PACKETS }, () => PACKET);
  const all = [
    page(0, 0, BEGINS, [head]),
    page(1, 0, 0, [tags]),
    ...Array.from({ length: pages }, (_, n) =>
      page(n + 2, n === pages - 1 ? granule : (n + 1) * PACKETS * PACKET_FRAMES, n === pages - 1 ? ENDS : 0, silence),
    ),
  ];
  const bytes = new Uint8Array(all.reduce((sum, one) => sum + one.length, 0));
  let at = 0;
  for (const one of all) {
    bytes.set(one, at);
    at += one.length;
  }
  return bytes;
}

function page(sequence: number, granule: number, kind: number, packets: readonly Uint8Array[]): Uint8Array {
  const size = packets.reduce((sum, packet) => sum + packet.length, 0);
  const bytes = new Uint8Array(27 + packets.length + size);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode('OggS'));
  bytes[5] = kind;
  view.setBigInt64(6, BigInt(granule), true);
  view.setUint32(14, SERIAL, true);
  view.setUint32(18, sequence, true);
  bytes[26] = packets.length;
  let at = 27 + packets.length;
  packets.forEach((packet, n) => {
    bytes[27 + n] = packet.length;
    bytes.set(packet, at);
    at += packet.length;
  });
  view.setUint32(22, checksum(bytes), true);
  return bytes;
}

/** CRC-32 by 0x04c11db7, from 0 and not reflected. */
function checksum(bytes: Uint8Array): number {
  let value = 0;
  for (const byte of bytes) {
    value ^= byte << 24;
    for (let bit = 0; bit < 8; bit++) value = value < 0 ? (value << 1) ^ 0x04c11db7 : value << 1;
  }
  return value >>> 0;
}
