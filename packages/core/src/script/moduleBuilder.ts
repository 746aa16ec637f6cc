import type { Node } from 'acorn';
import { NotedAlready, ScriptError, type ScriptFault } from './faults.ts';
import { placeOf } from './parse.ts';
import { F64, I32, encodeModule, type WasmFunction } from './wasm.ts';

/**
 * Globals of a module: steps that are left before a script has worked too long, the line at which it had, where the memory of
 * the side that is worked on begins, and how many bytes into a block its frame lies.
 */
export const STEPS = 0;
export const LATE = 1;
export const BASE = 2;
export const FRAME = 3;
/** Where the samples of a whole clip begin, those that come in and those that go out. */
export const SOUND = 4;
export const OUT = 5;
/** Steps that must be left: fewer are too few. */
export const LIMIT = 6;
/** Of a whole clip: steps at which it rests, the loop in which it does, 0 where it is done, and how many samples it has written. */
export const REST = 7;
export const RESTING = 8;
export const WRITTEN = 9;

/** Faults that are told at once. */
const MOST_FAULTS = 20;

/** Bytes of a page of memory. */
const PAGE = 65_536;

/** Something that a script keeps from sample to sample: found again by its name and kind when the text changes while it sounds. */
export interface KeptPlace {
  readonly name: string;
  readonly kind: 'number' | 'boolean' | 'array' | 'line';
  /** Behind the base of a side. */
  readonly address: number;
  readonly doubles: number;
  /** Of a line: where it stands how many samples were written. */
  readonly count?: number;
}

/** A module on its way: its functions, its memory, and what was found wrong. */
export class ModuleBuilder {
  private readonly functions: (WasmFunction | undefined)[] = [];
  private bytes = 0;
  private readonly path: string[] = [];
  private keptPlaces: KeptPlace[] = [];
  private shared = 0;
  private faults: ScriptFault[] = [];
  private readonly made = new Map<unknown, number>();

  /** A place for a function that may be called before its code is there. */
  reserve(): number {
    return this.functions.push(undefined) - 1;
  }

  define(index: number, code: WasmFunction): void {
    this.functions[index] = code;
  }

  /** The place of a function that is there once, whoever asks for it. */
  once(define: (builder: ModuleBuilder) => number): number {
    let index = this.made.get(define);
    if (index === undefined) this.made.set(define, (index = define(this)));
    return index;
  }

  /** Doubles in the memory of each side; gives the address of the first, from the base of the side on. */
  allocate(doubles: number): number {
    const address = this.bytes;
    this.bytes += 8 * doubles;
    return address;
  }

  /** Doubles that are there once; gives the address of the first. */
  allocateShared(doubles: number): number {
    const address = this.shared;
    this.shared += 8 * doubles;
    return address;
  }

  /** Does something under a name, which is part of the names of what is kept in it. */
  under<T>(name: string, work: () => T): T {
    this.path.push(name);
    try {
      return work();
    } finally {
      this.path.pop();
    }
  }

  /** Notes down that something is kept from sample to sample. */
  keep(place: Omit<KeptPlace, 'name'>): void {
    this.keptPlaces.push({ name: this.path.join('.'), ...place });
  }

  /** What is made anew by each text is not kept from one to the next. */
  forget(address: number): void {
    this.keptPlaces = this.keptPlaces.filter((place) => place.address !== address);
  }

  get kept(): readonly KeptPlace[] {
    return this.keptPlaces;
  }

  /** Bytes of the memory of a side, and of what is there once, which lies before it. */
  get allocated(): { readonly perSide: number; readonly shared: number } {
    return { perSide: this.bytes, shared: this.shared };
  }

  /** How many faults were found so far. */
  get faultCount(): number {
    return this.faults.length;
  }

  /** Goes on behind a part that is not allowed, whose faults are noted: more may be wrong further down. False then. */
  attempt(work: () => void): boolean {
    try {
      work();
      return true;
    } catch (error) {
      if (error instanceof ScriptError) this.faults.push(...error.places);
      else if (!(error instanceof NotedAlready)) throw error;
      return false;
    }
  }

  /** All of the work. ScriptError with all faults, each once, in the order of the text. */
  whole<T>(work: () => T): T {
    let made: { readonly result: T } | undefined;
    this.attempt(() => (made = { result: work() }));
    if (made && this.faults.length === 0) return (made as { readonly result: T }).result;
    const each = new Map(this.faults.map((fault) => [`${fault.line} ${fault.column} ${fault.message}`, fault]));
    throw new ScriptError(
      [...each.values()].sort((a, b) => a.line - b.line || a.column - b.column).slice(0, MOST_FAULTS),
    );
  }

  /** Ends the work on what stands around with a fault at a part of the tree. */
  refuse(node: Node, message: string): never {
    throw new ScriptError([{ ...placeOf(node), message }]);
  }

  /** `sides`: how many times the memory of a side is there; `grows`: whether more is taken from outside. */
  encode(sides = 1, grows = false): Uint8Array<ArrayBuffer> {
    return encodeModule({
      functions: this.functions.map(
        (one) => one ?? { params: [], results: [], locals: [], code: [OP_UNREACHABLE], exported: undefined },
      ),
      globals: [
        { type: F64, value: Infinity, exported: 'steps' },
        { type: I32, value: 0, exported: 'late' },
        { type: I32, value: 0, exported: 'base' },
        { type: I32, value: 0 },
        { type: I32, value: 0, exported: 'sound' },
        { type: I32, value: 0, exported: 'out' },
        { type: F64, value: 0, exported: 'limit' },
        { type: F64, value: 0, exported: 'rest' },
        { type: I32, value: 0, exported: 'resting' },
        { type: F64, value: 0, exported: 'written' },
      ],
      pages: Math.max(1, Math.ceil((this.shared + sides * this.bytes) / PAGE)),
      grows,
    });
  }
}

const OP_UNREACHABLE = 0x00;
