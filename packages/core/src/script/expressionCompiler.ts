import type {
  BinaryExpression,
  CallExpression,
  Expression,
  Identifier,
  Literal,
  LogicalExpression,
  MemberExpression,
  Node,
  UnaryExpression,
} from 'acorn';
import { Code, wasmType } from './code.ts';
import { constantOf } from './constants.ts';
import { FREE, both, either, stepsOf, type Cost } from './cost.ts';
import { ARITHMETIC, BITS, COMPARISONS } from './instructions.ts';
import { NotedAlready } from './faults.ts';
import { BASE, FRAME, STEPS, type ModuleBuilder } from './moduleBuilder.ts';
import type { Binding, FunctionNode, Library, Scope, ScriptResult, ScriptType, SettingPlace } from './scope.ts';
import { EMPTY_BLOCK, F64, I64_TRUNC_SAT_F64_S, OP, SATURATING } from './wasm.ts';
import { MATH_NAMES, SPOKEN, STANDARD, countedNames } from './words.ts';

/** What is stored below this becomes 0: numbers below the normal range are slow. */
const LEAST = 1e-30;

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

/** Compiles expressions of one function: each leaves its value on the stack. Calls are `CallCompiler`’s. */
export abstract class ExpressionCompiler {
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

  protected abstract call(node: CallExpression): ScriptResult;

  /** Calls a function of the mathematics with what is on the stack. */
  protected abstract callLibrary(node: Node, name: string, args: readonly ScriptType[]): void;

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

  /** The number on the stack, or 0 where it is too small to be heard. */
  protected flushed(): void {
    if (this.library.own) return;
    const value = this.code.newLocal('number');
    this.code.set(value).number(0).get(value).get(value).op(OP.f64Abs).number(LEAST).op(OP.f64Lt, OP.select);
  }

  protected same(node: Node, type: ScriptType, wanted: ScriptType): void {
    if (type !== wanted)
      this.refuse(
        node,
        wanted === 'number'
          ? 'A number is needed here; this is true or false.'
          : 'true or false is needed here; this is a number.',
      );
  }

  protected numberOf(node: Expression): void {
    this.same(node, this.expression(node), 'number');
  }

  /** What decides: a number decides as the language has it, 0 and what is no number against. */
  protected condition(node: Expression): void {
    if (this.expression(node) === 'number') this.code.truth();
  }

  protected expression(node: Expression): ScriptType {
    const { code } = this;
    if (!SILENT.has(node.type)) this.takes(1);
    switch (node.type) {
      case 'Literal':
        if (typeof node.value === 'number') code.number(node.value);
        else if (typeof node.value === 'boolean') {
          code.integer(Number(node.value));
          return 'boolean';
        } else
          this.refuse(
            node,
            'Texts, regular expressions, null and large whole numbers are not allowed here; numbers, true and false are.',
          );
        return 'number';
      case 'Identifier':
        return this.name(node, node.name);
      case 'ParenthesizedExpression':
        return this.expression(node.expression);
      case 'UnaryExpression':
        return this.unary(node);
      case 'BinaryExpression':
        return this.binary(node);
      case 'LogicalExpression':
        return this.logical(node);
      case 'ConditionalExpression': {
        this.condition(node.test);
        const before = code.bytes.length;
        code.open(OP.if, EMPTY_BLOCK);
        let type: ScriptType = 'number';
        const one = this.branch(() => (type = this.expression(node.consequent)));
        code.bytes[before + 1] = wasmType(type);
        code.op(OP.else);
        const other = this.branch(() => this.same(node.alternate, this.expression(node.alternate), type));
        this.cost = both(this.cost, either(one, other));
        code.close();
        return type;
      }
      case 'CallExpression': {
        const type = this.call(node);
        if (type === undefined) this.refuse(node, 'This function gives nothing.');
        if (type === 'pair') this.refuse(node, 'This function gives both sides; a number is needed here.');
        return type;
      }
      case 'MemberExpression':
        return this.member(node);
      default:
        return this.refuse(node, `${SPOKEN[node.type] ?? node.type} is not allowed here.`);
    }
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

  /** `Math.PI`, a setting `p.time`, or a place of an array. */
  protected member(node: MemberExpression): ScriptType {
    const { computed } = node;
    const name = mathName(node);
    if (name === 'PI') this.code.number(Math.PI);
    else if (name !== undefined) this.refuse(node, `There is no Math.${name} here; ${MATH_NAMES}`);
    else {
      const setting = this.setting(node);
      if (setting?.words)
        this.refuse(node, `A choice is compared with one of its words: === '${setting.words.join("' or '")}'.`);
      if (setting) {
        this.code.op(OP.globalGet, FRAME).load(setting.address);
        if (setting.toggle) {
          this.code.truth();
          return 'boolean';
        }
      } else if (this.unitValue(node)) return 'number';
      else if (computed) this.element(node).read();
      else this.refuse(node, 'Only Math and the settings have parts here.');
    }
    return 'number';
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

  /** `p.shape === 'saw'`: true where the choice says the word. False when neither side is a choice. */
  protected comparedWithWord(left: Node, right: Node, operator: string): boolean {
    const choice = this.setting(left);
    if (!choice?.words) return false;
    const { words } = choice;
    const word = right.type === 'Literal' ? (right as Literal).value : undefined;
    if (typeof word !== 'string' || !words.includes(word))
      this.refuse(right, `The choice has the words ${words.map((one) => `'${one}'`).join(', ')}; compare it with one.`);
    this.code.op(OP.globalGet, FRAME).load(choice.address).number(words.indexOf(word));
    this.code.op(operator === '===' ? OP.f64Eq : OP.f64Ne);
    return true;
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

  protected unary({ operator, argument }: UnaryExpression): ScriptType {
    if (operator === '!') {
      this.condition(argument);
      this.code.op(OP.i32Eqz);
      return 'boolean';
    }
    if (operator !== '-' && operator !== '+' && operator !== '~')
      this.refuse(argument, `${operator} is not allowed; -, +, ! and ~ are.`);
    this.numberOf(argument);
    if (operator === '-') this.code.op(OP.f64Neg);
    if (operator === '~') {
      this.wholeBits();
      this.code.integer(-1).op(OP.i32Xor, OP.f64ConvertI32S);
    }
    return 'number';
  }

  protected binary(node: BinaryExpression): ScriptType {
    const { left, right, operator } = node;
    if (left.type === 'PrivateIdentifier') return this.refuse(left, 'Objects are not allowed.');
    if (operator === '===' || operator === '!==') {
      if (this.comparedWithWord(left, right, operator) || this.comparedWithWord(right, left, operator))
        return 'boolean';
      const type = this.expression(left);
      this.same(right, this.expression(right), type);
      const [equal, other] = type === 'number' ? [OP.f64Eq, OP.f64Ne] : [OP.i32Eq, OP.i32Ne];
      this.code.op(operator === '===' ? equal : other);
      return 'boolean';
    }
    if (operator === '==' || operator === '!=') this.refuse(node, `${operator} is not allowed; write ${operator}=.`);
    const by = operator === '%' ? Math.abs(Number(constantOf(right, this.scope))) : NaN;
    if (isPowerOfTwo(by)) {
      this.numberOf(left);
      this.remainderBy(by);
      return 'number';
    }
    return this.binaryOf(
      node,
      operator,
      () => this.numberOf(left),
      () => this.numberOf(right),
    );
  }

  protected binaryOf(node: Node, operator: string, left: () => void, right: () => void): ScriptType {
    const { code } = this;
    left();
    if (Object.hasOwn(BITS, operator)) {
      this.wholeBits();
      right();
      this.wholeBits();
      code.op(BITS[operator], operator === '>>>' ? OP.f64ConvertI32U : OP.f64ConvertI32S);
      return 'number';
    }
    right();
    if (Object.hasOwn(ARITHMETIC, operator)) code.op(ARITHMETIC[operator]);
    else if (Object.hasOwn(COMPARISONS, operator)) {
      code.op(COMPARISONS[operator]);
      return 'boolean';
    } else if (operator === '%') this.callLibrary(node, 'remainder', ['number', 'number']);
    else this.refuse(node, `${operator} is not allowed; + - * / %, comparisons, && || and the operators of bits are.`);
    return 'number';
  }

  /** What the number on the stack leaves when it is divided by a power of two: no step of that is rounded. */
  protected remainderBy(by: number): void {
    const { code } = this;
    const value = code.newLocal('number');
    code
      .tee(value)
      .get(value)
      .number(1 / by)
      .op(OP.f64Mul, OP.f64Trunc)
      .number(by)
      .op(OP.f64Mul, OP.f64Sub);
    // The sign is that of the number, also of a zero.
    code.get(value).op(OP.f64Copysign);
  }

  /** The number on the stack as the 32 bits that the language takes it for (ToInt32). */
  protected wholeBits(): void {
    // The library has none that are too large for it.
    if (!this.library.own) this.callLibrary(this.node, 'wrapped', ['number']);
    this.code.op(SATURATING, I64_TRUNC_SAT_F64_S, OP.i32WrapI64);
  }

  protected logical({ left, right, operator }: LogicalExpression): ScriptType {
    const { code } = this;
    if (operator === '??') this.refuse(left, '?? is not allowed: there is no undefined here; && and || are.');
    const type = this.expression(left);
    const value = code.newLocal(type);
    code.tee(value);
    if (type === 'number') code.truth();
    if (operator === '||') code.op(OP.i32Eqz);
    code.open(OP.if, wasmType(type));
    this.cost = both(
      this.cost,
      this.branch(() => this.same(right, this.expression(right), type)),
    );
    code.op(OP.else).get(value).close();
    return type;
  }
}

/** What takes no time of its own. */
const SILENT: ReadonlySet<string> = new Set(['Literal', 'Identifier', 'ParenthesizedExpression']);

/** From 1 on, where what is divided by it gets no larger. */
function isPowerOfTwo(x: number): boolean {
  let power = 1;
  while (power < x && power < 2 ** 62) power *= 2;
  return power === x;
}

/** Instructions that take steps off those that are left. */
export const counting = (steps: number): readonly number[] =>
  new Code(0).op(OP.globalGet, STEPS).number(steps).op(OP.f64Sub, OP.globalSet, STEPS).bytes;

/** `sin` of `Math.sin`. */
export function mathName(node: Expression): string | undefined {
  if (node.type !== 'MemberExpression' || node.computed || node.optional) return undefined;
  const { object, property } = node;
  return object.type === 'Identifier' && object.name === 'Math' && property.type === 'Identifier'
    ? property.name
    : undefined;
}
