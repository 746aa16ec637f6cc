/** The 256 steps of the two companded formats of telephony (ITU-T G.711), full scale = ±1. */

const step = (byte: number) => ({ exponent: (byte >> 4) & 7, mantissa: byte & 15 });

export const A_LAW = Float32Array.from({ length: 256 }, (_, code) => {
  const byte = code ^ 0x55;
  const { exponent, mantissa } = step(byte);
  const size = exponent === 0 ? 16 * mantissa + 8 : (16 * mantissa + 264) << (exponent - 1);
  return ((byte & 0x80) !== 0 ? size : -size) / 32768;
});

export const MU_LAW = Float32Array.from({ length: 256 }, (_, code) => {
  const byte = ~code & 0xff;
  const { exponent, mantissa } = step(byte);
  const size = ((8 * mantissa + 132) << exponent) - 132;
  return ((byte & 0x80) !== 0 ? -size : size) / 32768;
});
