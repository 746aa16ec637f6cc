/** The few globals the core uses that pages, workers and Node all have; the core knows neither the DOM nor Node. */
declare class TextEncoder {
  encode(text: string): Uint8Array;
}
declare class TextDecoder {
  decode(bytes: Uint8Array): string;
}
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
    // Tells it from what merely has no members.
    private readonly compiled: true;
  }
  class Instance {
    constructor(module: Module);
    readonly exports: object;
  }
  interface Memory {
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
}
