import type { ArrowFunctionExpression, FunctionDeclaration } from 'acorn';
import type { Cost } from './cost.ts';

/** What a value is: a double or true/false. */
export type ScriptType = 'number' | 'boolean';

export type FunctionNode = FunctionDeclaration | ArrowFunctionExpression;

/** What a function gives: a value, both sides at once, or nothing. */
export type ScriptResult = ScriptType | 'pair' | undefined;

/** What a function has become in the module. */
export interface Compiled {
  readonly index: number;
  readonly params: readonly ScriptType[];
  readonly result: ScriptResult;
  readonly cost: Cost;
}

/** Where a setting stands: a double for each frame of a block, from this address on. */
export interface SettingPlace {
  readonly address: number;
  /** What it may say; then the double is the place of the word among them. */
  readonly words?: readonly string[];
  /** True where it is true or false. */
  readonly toggle?: boolean;
}

/** What a name stands for. */
export type Binding =
  /** Of one function’s code; functions within it do not see it. */
  | {
      readonly kind: 'local';
      readonly owner: object;
      readonly index: number;
      readonly type: ScriptType;
      readonly constant: boolean;
    }
  /** Kept from one call to the next, at an address behind the base of its side. */
  | { readonly kind: 'state'; readonly address: number; readonly type: ScriptType; readonly constant: boolean }
  | { readonly kind: 'constant'; readonly value: number | boolean }
  /** Something was wrong where it is declared. */
  | { readonly kind: 'unknown' }
  /** So many doubles, at an address behind the base of its side. */
  | { readonly kind: 'array'; readonly address: number; readonly length: number }
  /**
   * Something that is given, with functions of its own, each of which takes numbers; the one without a name is called by the
   * name of the unit itself. `start`: the function that makes it ready.
   */
  | {
      readonly kind: 'unit';
      readonly functions: Readonly<Record<string, Compiled>>;
      readonly start?: number;
      /** Numbers that it has, by their addresses. */
      readonly values?: Readonly<Record<string, number>>;
    }
  | { readonly kind: 'settings'; readonly settings: Readonly<Record<string, SettingPlace>> }
  /** A double for each and every frame of a block, from this address on. */
  | { readonly kind: 'frames'; readonly address: number }
  /** What shows a value: gives the address for what is called so, a double for each frame of a block. */
  | { readonly kind: 'watch'; readonly placeOf: (name: string) => number | undefined }
  | {
      readonly kind: 'function';
      readonly node: FunctionNode;
      readonly scope: Scope;
      compiled: Compiled | 'begun' | 'failed' | undefined;
      /** What it may call, where that is not what its caller may. */
      readonly library?: Library;
    };

/** Functions that a script may call by the name of a library, and what holds for the text that calls them. */
export interface Library {
  /** The function behind `Math.sin` or the like; undefined where there is none. */
  find(name: string): Extract<Binding, { kind: 'function' }> | undefined;
  /** True for the mathematics’ own text: it may look at bits, and what it stores stays as it is. */
  readonly own: boolean;
  /** For the text of what is given: the line of the script that uses it. It may call things as it likes. */
  readonly line?: number;
}

/** Names and what they stand for, inside of others. */
export class Scope {
  private readonly names = new Map<string, Binding>();
  readonly outer: Scope | undefined;

  constructor(outer?: Scope) {
    this.outer = outer;
  }

  /** False when the name is taken here. */
  declare(name: string, binding: Binding): boolean {
    if (this.names.has(name)) return false;
    this.names.set(name, binding);
    return true;
  }

  find(name: string): Binding | undefined {
    return this.names.get(name) ?? this.outer?.find(name);
  }

  has(name: string): boolean {
    return this.names.has(name);
  }
}
