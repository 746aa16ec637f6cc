/** What operators and functions of the language are in WebAssembly. */
import type { Code } from './code.ts';
import { I64_TRUNC_SAT_F64_S, OP, SATURATING } from './wasm.ts';

/** `Math.abs` and its kin that are one instruction. */
export const INSTRUCTIONS: Readonly<Record<string, number>> = {
  abs: OP.f64Abs,
  floor: OP.f64Floor,
  ceil: OP.f64Ceil,
  trunc: OP.f64Trunc,
  sqrt: OP.f64Sqrt,
};
export const ARITHMETIC: Readonly<Record<string, number>> = {
  '+': OP.f64Add,
  '-': OP.f64Sub,
  '*': OP.f64Mul,
  '/': OP.f64Div,
};
export const COMPARISONS: Readonly<Record<string, number>> = {
  '<': OP.f64Lt,
  '>': OP.f64Gt,
  '<=': OP.f64Le,
  '>=': OP.f64Ge,
};
export const BITS: Readonly<Record<string, number>> = {
  '&': OP.i32And,
  '|': OP.i32Or,
  '^': OP.i32Xor,
  '<<': OP.i32Shl,
  '>>': OP.i32ShrS,
  '>>>': OP.i32ShrU,
};

/** Of the library’s own text: the upper 32 bits of a double as a number, and a double with other upper bits. */
export const INTRINSICS: Readonly<Record<string, (code: Code) => void>> = {
  highBits: (code) => code.op(OP.i64ReinterpretF64, OP.i64Const, 32, OP.i64ShrU, OP.i32WrapI64, OP.f64ConvertI32S),
  withHighBits: (code) => {
    const high = code.newLocal('number');
    code.set(high);
    code.op(OP.i64ReinterpretF64, OP.i64Const, 0xff, 0xff, 0xff, 0xff, 0x0f, OP.i64And);
    code
      .get(high)
      .op(
        SATURATING,
        I64_TRUNC_SAT_F64_S,
        OP.i32WrapI64,
        OP.i64ExtendI32U,
        OP.i64Const,
        32,
        OP.i64Shl,
        OP.i64Or,
        OP.f64ReinterpretI64,
      );
  },
};
