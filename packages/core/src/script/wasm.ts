/** WebAssembly in its binary form (WebAssembly Core Specification 1.0, chapter 5), as far as scripts need it. */

export const I32 = 0x7f;
export const F64 = 0x7c;
export type ValueType = typeof I32 | typeof F64;

/** Instructions by their names in the specification. */
export const OP = {
  unreachable: 0x00,
  block: 0x02,
  loop: 0x03,
  if: 0x04,
  else: 0x05,
  end: 0x0b,
  br: 0x0c,
  brIf: 0x0d,
  return: 0x0f,
  call: 0x10,
  drop: 0x1a,
  select: 0x1b,
  localGet: 0x20,
  localSet: 0x21,
  localTee: 0x22,
  globalGet: 0x23,
  globalSet: 0x24,
  i32Load: 0x28,
  f32Load: 0x2a,
  f64Load: 0x2b,
  i32Store: 0x36,
  f32Store: 0x38,
  f64Store: 0x39,
  i32Const: 0x41,
  i64Const: 0x42,
  f64Const: 0x44,
  i32Eqz: 0x45,
  i32Eq: 0x46,
  i32Ne: 0x47,
  i32LtS: 0x48,
  i32LtU: 0x49,
  i32GtS: 0x4a,
  i32GtU: 0x4b,
  i32LeU: 0x4d,
  i32GeS: 0x4e,
  i32GeU: 0x4f,
  f64Eq: 0x61,
  f64Ne: 0x62,
  f64Lt: 0x63,
  f64Gt: 0x64,
  f64Le: 0x65,
  f64Ge: 0x66,
  i32Add: 0x6a,
  i32Sub: 0x6b,
  i32Mul: 0x6c,
  i32And: 0x71,
  i32Or: 0x72,
  i32Xor: 0x73,
  i32Shl: 0x74,
  i32ShrS: 0x75,
  i32ShrU: 0x76,
  i64And: 0x83,
  i64Or: 0x84,
  i64Shl: 0x86,
  i64ShrU: 0x88,
  f64Abs: 0x99,
  f64Neg: 0x9a,
  f64Ceil: 0x9b,
  f64Floor: 0x9c,
  f64Trunc: 0x9d,
  f64Sqrt: 0x9f,
  f64Add: 0xa0,
  f64Sub: 0xa1,
  f64Mul: 0xa2,
  f64Div: 0xa3,
  f64Min: 0xa4,
  f64Max: 0xa5,
  f64Copysign: 0xa6,
  i32WrapI64: 0xa7,
  i32TruncF64S: 0xaa,
  i64ExtendI32U: 0xad,
  f32DemoteF64: 0xb6,
  f64ConvertI32S: 0xb7,
  f64ConvertI32U: 0xb8,
  f64PromoteF32: 0xbb,
  i64ReinterpretF64: 0xbd,
  f64ReinterpretI64: 0xbf,
} as const;

/** A block or an `if` that leaves no value. */
export const EMPTY_BLOCK = 0x40;
/** Prefix of the conversions that hold at the ends of their range, and the one from f64 to i64. */
export const SATURATING = 0xfc;
export const I64_TRUNC_SAT_F64_S = 0x06;

/** An unsigned number in LEB128. */
export function unsigned(value: number): number[] {
  const bytes: number[] = [];
  let left = value;
  do {
    const seven = left % 128;
    left = Math.floor(left / 128);
    bytes.push(left === 0 ? seven : seven | 0x80);
  } while (left !== 0);
  return bytes;
}

/** A signed number in LEB128; whole, of at most 53 bits. */
export function signed(value: number): number[] {
  const bytes: number[] = [];
  let left = value;
  for (;;) {
    const seven = ((left % 128) + 128) % 128;
    left = Math.floor(left / 128);
    const done = (left === 0 && seven < 64) || (left === -1 && seven >= 64);
    bytes.push(done ? seven : seven | 0x80);
    if (done) return bytes;
  }
}

/** The eight bytes of a double. */
export function double(value: number): number[] {
  const bytes = new DataView(new ArrayBuffer(8));
  bytes.setFloat64(0, value, true);
  return Array.from({ length: 8 }, (_, n) => bytes.getUint8(n));
}

export interface WasmFunction {
  readonly params: readonly ValueType[];
  readonly results: readonly ValueType[];
  /** Beside the parameters. */
  readonly locals: readonly ValueType[];
  /** Without the `end` behind it. */
  readonly code: readonly number[];
  /** Under which it is called from outside; undefined: it is not. */
  readonly exported: string | undefined;
}

export interface WasmModule {
  readonly functions: readonly WasmFunction[];
  /** Numbers that can be changed, by their values at first. */
  readonly globals: readonly { readonly type: ValueType; readonly value: number; readonly exported?: string }[];
  /** Pages of 64 KiB of the one memory, which is its own and exported as `memory`. */
  readonly pages: number;
  /** True where more may be taken while it is there, up to 4 GiB. */
  readonly grows?: boolean;
}

const MOST_PAGES = 65_536;

/** The bytes of a module. */
export function encodeModule({ functions, globals, pages, grows = false }: WasmModule): Uint8Array<ArrayBuffer> {
  const vector = (items: readonly (readonly number[])[]) => [...unsigned(items.length), ...items.flat()];
  const section = (id: number, content: readonly number[]) => [id, ...unsigned(content.length), ...content];
  const name = (text: string) => vector([...new TextEncoder().encode(text)].map((byte) => [byte]));
  const constant = (type: ValueType, value: number) =>
    type === I32 ? [OP.i32Const, ...signed(value)] : [OP.f64Const, ...double(value)];
  const bodies = functions.map(({ locals, code }) => {
    const body = [...vector(locals.map((type) => [1, type])), ...code, OP.end];
    return [...unsigned(body.length), ...body];
  });
  const exported = [
    [...name('memory'), 0x02, 0],
    ...functions.flatMap((one, n) =>
      one.exported === undefined ? [] : [[...name(one.exported), 0x00, ...unsigned(n)]],
    ),
    ...globals.flatMap((one, n) => (one.exported === undefined ? [] : [[...name(one.exported), 0x03, ...unsigned(n)]])),
  ];
  return Uint8Array.from([
    ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
    ...section(
      1,
      vector(
        functions.map(({ params, results }) => [
          0x60,
          ...vector(params.map((t) => [t])),
          ...vector(results.map((t) => [t])),
        ]),
      ),
    ),
    ...section(3, vector(functions.map((_, n) => unsigned(n)))),
    ...section(5, vector([[0x01, ...unsigned(pages), ...unsigned(grows ? MOST_PAGES : pages)]])),
    ...section(6, vector(globals.map(({ type, value }) => [type, 0x01, ...constant(type, value), OP.end]))),
    ...section(7, vector(exported)),
    ...section(10, vector(bodies)),
  ]);
}
