/** What is allowed and refused, in the words in which it is told. */

/** Functions of `Math` that scripts have. */
export const MATH: ReadonlySet<string> = new Set(
  'abs min max floor ceil round trunc sign sqrt exp log log2 log10 pow sin cos tan tanh asin acos atan atan2 hypot fround'.split(
    ' ',
  ),
);
export const MATH_NAMES = `allowed are ${[...MATH].join(', ')} and PI.`;

/** Names of the language that stand for numbers. */
export const STANDARD: ReadonlyMap<string, number> = new Map([
  ['Infinity', Infinity],
  ['NaN', NaN],
]);

/** Names that nothing else may have. */
export const RESERVED: ReadonlySet<string> = new Set(['Math', 'Infinity', 'NaN', 'undefined', 'arguments', 'eval']);

/** Names that a script is given, and that it calls nothing else by. */
export const GIVEN: ReadonlySet<string> = new Set(
  'sampleRate tempo beat seconds noise array delayLine onePole filter allpass oscillator smooth follower oversampled clamp dB ratioOf watch'.split(
    ' ',
  ),
);

/** What parts of the language are called when they are refused. */
export const SPOKEN: Readonly<Record<string, string>> = {
  ClassDeclaration: 'A class',
  ClassExpression: 'A class',
  ObjectExpression: 'An object',
  ArrayExpression: 'A list in [ ]',
  TemplateLiteral: 'A template',
  TaggedTemplateExpression: 'A template',
  ThisExpression: 'this',
  NewExpression: 'new',
  ImportExpression: 'import',
  MetaProperty: 'import.meta',
  AwaitExpression: 'await',
  YieldExpression: 'yield',
  SpreadElement: '...',
  FunctionExpression: 'A function without a place of its own',
  ArrowFunctionExpression: 'A function without a name',
  AssignmentExpression: 'Assigning within an expression',
  UpdateExpression: '++ or -- within an expression',
  SequenceExpression: 'A comma between expressions',
  SwitchStatement: 'switch',
  TryStatement: 'try',
  ThrowStatement: 'throw',
  DoWhileStatement: 'do',
  ForInStatement: 'for in',
  ForOfStatement: 'for of',
  LabeledStatement: 'A name before a loop',
  DebuggerStatement: 'debugger',
  WithStatement: 'with',
};

export const countedNames = (names: readonly string[]) =>
  names.length === 0 ? 'is none' : `${names.length === 1 ? 'is' : 'are'} ${names.join(', ')}`;
