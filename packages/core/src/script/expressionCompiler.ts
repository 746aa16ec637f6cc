import type {
  BinaryExpression,
  CallExpression,
  Expression,
  Literal,
  LogicalExpression,
  MemberExpression,
  Node,
  UnaryExpression,
} from 'acorn';
import { wasmType } from './code.ts';
import { constantOf } from './constants.ts';
import { both, either } from './cost.ts';
import { ARITHMETIC, BITS, COMPARISONS } from './instructions.ts';
import { FRAME } from './moduleBuilder.ts';
import { NameCompiler } from './nameCompiler.ts';
import type { ScriptResult, ScriptType } from './scope.ts';
import { EMPTY_BLOCK, I64_TRUNC_SAT_F64_S, OP, SATURATING } from './wasm.ts';
import { MATH_NAMES, SPOKEN } from './words.ts';

/** What is stored below this becomes 0: numbers below the normal range are slow. */
const LEAST = 1e-30;

/** Compiles expressions of one function: each leaves its value on the stack. Calls are `CallCompiler`’s. */
export abstract class ExpressionCompiler extends NameCompiler {
  protected abstract call(node: CallExpression): ScriptResult;

  /** Calls a function of the mathematics with what is on the stack. */
  protected abstract callLibrary(node: Node, name: string, args: readonly ScriptType[]): void;

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

/** `sin` of `Math.sin`. */
export function mathName(node: Expression): string | undefined {
  if (node.type !== 'MemberExpression' || node.computed || node.optional) return undefined;
  const { object, property } = node;
  return object.type === 'Identifier' && object.name === 'Math' && property.type === 'Identifier'
    ? property.name
    : undefined;
}
