import type { Expression, Identifier, MemberExpression, Node } from 'acorn';
import { Code } from './code.ts';
import { FREE, both, stepsOf, type Cost } from './cost.ts';
import { NotedAlready } from './faults.ts';
import { BASE, FRAME, STEPS, type ModuleBuilder } from './moduleBuilder.ts';
import type { Binding, FunctionNode, Library, Scope, ScriptType, SettingPlace } from './scope.ts';
import { EMPTY_BLOCK, F64, OP } from './wasm.ts';
import { STANDARD, countedNames } from './words.ts';

/** A branch of more steps than this counts them itself, when it is gone into. */
const FEW_STEPS = 16;

/** Something that is read and written. Either may be called several times, or not at all. */
interface Target {
  readonly type: ScriptType;
  /** Puts its value on the stack. */
  readonly read: () => void;
  /** Takes its value from the stack. */
  readonly write: () => void;
}

/** Names that are kept from one call to the next: those right in the function that makes a stage ready. */
export interface Keeping {
  readonly scope: Scope;
  /** What a call makes that is given once, such as `delayLine(2)`; undefined for any other expression. */
  unitOf(node: Expression, scope: Scope): Binding | undefined;
  /** False where variables are there for the one call only. */
  readonly variables?: boolean;
}

/** What a function is compiled with: its code, what it costs, and what the names in it stand for. */
export abstract class NameCompiler {
  readonly code: Code;
  protected readonly builder: ModuleBuilder;
  protected readonly library: Library;
  protected readonly node: FunctionNode;
  protected scope: Scope;
  protected readonly keeping: Keeping | undefined;
  /** Of what was compiled so far. */
  protected cost: Cost = FREE;

  constructor(
    builder: ModuleBuilder,
    library: Library,
    node: FunctionNode,
    scope: Scope,
    params: number,
    keeping: Keeping | undefined,
  ) {
    this.builder = builder;
    this.library = library;
    this.node = node;
    this.scope = scope;
    this.keeping = keeping;
    this.code = new Code(params);
  }

  /** Leaves a number on the stack. */
  protected abstract numberOf(node: Expression): void;

  protected takes(steps: number): void {
    this.cost = both(this.cost, stepsOf(steps));
  }

  /** What a part costs by itself, which is not counted yet. */
  protected apart(work: () => void): Cost {
    const before = this.cost;
    this.cost = FREE;
    work();
    const cost = this.cost;
    this.cost = before;
    return cost;
  }

  /** A part that is gone into or not: where it is long, it counts its steps itself. */
  protected branch(work: () => void): Cost {
    const at = this.code.bytes.length;
    const cost = this.apart(work);
    if (cost.always <= FEW_STEPS || this.library.own) return cost;
    this.code.insert(at, this.countingBranch(cost.always));
    return { ...cost, always: 0 };
  }

  protected countingBranch(steps: number): readonly number[] {
    return counting(steps);
  }

  protected refuse(node: Node, message: string): never {
    return this.builder.refuse(node, message);
  }

  /** What is given another value: a let, or a place of an array. */
  protected target(node: Node): Target {
    if (node.type === 'MemberExpression') return this.element(node as MemberExpression);
    if (node.type !== 'Identifier') this.refuse(node, 'Only a let or a place of an array is given another value.');
    const { name } = node as Identifier;
    const found = this.found(node, name);
    if ((found.kind !== 'local' && found.kind !== 'state') || found.constant)
      this.refuse(node, `${name} is a const; make it a let to give it another value.`);
    return this.variable(found);
  }

  protected variable(found: Extract<Binding, { kind: 'local' | 'state' }>): Target {
    const { code } = this;
    const { type } = found;
    if (found.kind === 'local')
      return { type, read: () => void code.get(found.index), write: () => void code.set(found.index) };
    return {
      type,
      read: () => void code.op(OP.globalGet, BASE).load(found.address, type),
      write: () => {
        const value = code.newLocal(type);
        code.set(value).op(OP.globalGet, BASE).get(value).store(found.address, type);
      },
    };
  }

  /** A place of an array: its index is cut to a whole number; outside nothing is written, and 0 is read. */
  protected element(node: MemberExpression): Target {
    const { code } = this;
    const { object, property, computed } = node;
    const found = object.type === 'Identifier' ? this.find(object.name) : undefined;
    if (!computed || found?.kind !== 'array' || property.type === 'PrivateIdentifier')
      return this.refuse(node, 'Only arrays have places: name[index].');
    this.numberOf(property);
    this.takes(2);
    const index = code.newLocal('number');
    const value = code.newLocal('number');
    code.op(OP.f64Trunc).set(index);
    const inside = () => code.get(index).number(0).op(OP.f64Ge).get(index).number(found.length).op(OP.f64Lt, OP.i32And);
    const place = () => code.op(OP.globalGet, BASE).get(index).whole().integer(8).op(OP.i32Mul, OP.i32Add);
    return {
      type: 'number',
      read: () => {
        inside();
        code.open(OP.if, F64);
        place().load(found.address);
        code.op(OP.else).number(0).close();
      },
      write: () => {
        // Filled before the first sample, it says what the text says.
        if (this.keeping) this.builder.forget(found.address);
        code.set(value);
        inside();
        code.open(OP.if, EMPTY_BLOCK);
        place().get(value).store(found.address);
        code.close();
      },
    };
  }

  /** What a name stands for here; undefined where it stands for nothing. */
  protected find(name: string): Exclude<Binding, { kind: 'unknown' }> | undefined {
    const found = this.scope.find(name);
    if (found?.kind === 'unknown') throw new NotedAlready();
    return found;
  }

  /** The same of a name that must stand for something. */
  protected found(node: Node, name: string): Exclude<Binding, { kind: 'unknown' }> {
    const found = this.find(name);
    if (!found) this.refuse(node, `${name} stands for nothing here.`);
    if (found.kind === 'local' && found.owner !== this.code)
      this.refuse(node, `${name} belongs to the function around this one; hand it in as a value.`);
    return found;
  }

  protected name(node: Node, name: string): ScriptType {
    const standard = this.find(name) ? undefined : STANDARD.get(name);
    const found: Binding = standard === undefined ? this.found(node, name) : { kind: 'constant', value: standard };
    if (found.kind === 'local' || found.kind === 'state') {
      this.variable(found).read();
      return found.type;
    }
    if (found.kind === 'frames') {
      this.code.op(OP.globalGet, FRAME).load(found.address);
      return 'number';
    }
    if (found.kind !== 'constant')
      this.refuse(node, `${name} is no value by itself: a function is called, an array is read as ${name}[index].`);
    if (typeof found.value === 'number') this.code.number(found.value);
    else this.code.integer(Number(found.value));
    return typeof found.value === 'boolean' ? 'boolean' : 'number';
  }

  /** The setting that is meant by `p.name`; undefined for all else. */
  protected setting(node: Node): SettingPlace | undefined {
    if (node.type !== 'MemberExpression') return undefined;
    const { object, property, computed } = node as MemberExpression;
    const found = object.type === 'Identifier' ? this.find(object.name) : undefined;
    if (found?.kind !== 'settings' || computed || property.type !== 'Identifier') return undefined;
    const { settings } = found;
    if (!Object.hasOwn(settings, property.name))
      this.refuse(property, `There is no setting ${property.name}; there ${countedNames(Object.keys(settings))}.`);
    return settings[property.name];
  }

  /** `sound.frames`: a number that something given has; false for all else. */
  protected unitValue({ object, property, computed }: MemberExpression): boolean {
    const found = object.type === 'Identifier' ? this.find(object.name) : undefined;
    if (found?.kind !== 'unit' || !found.values || computed || property.type !== 'Identifier') return false;
    const { values, functions } = found;
    if (!Object.hasOwn(values, property.name))
      this.refuse(property, `There ${countedNames([...Object.keys(values), ...Object.keys(functions)])} of it.`);
    this.code.integer(0).load(values[property.name]);
    return true;
  }
}

/** Instructions that take steps off those that are left. */
export const counting = (steps: number): readonly number[] =>
  new Code(0).op(OP.globalGet, STEPS).number(steps).op(OP.f64Sub, OP.globalSet, STEPS).bytes;
