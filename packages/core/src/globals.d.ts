/** The few globals the core uses that pages, workers and Node all have; the core knows neither the DOM nor Node. */
declare class TextEncoder {
  encode(text: string): Uint8Array;
}
declare class TextDecoder {
  decode(bytes: Uint8Array): string;
}
