import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Which package may import which. Nothing imports the interface; the core imports none of the others. */
const allowed = {
  core: [],
  demo: ['@hexenkessel/core'],
  cli: ['@hexenkessel/core'],
  web: ['@hexenkessel/core'],
  server: ['@hexenkessel/core', '@hexenkessel/demo'],
};
const packages = [
  '@hexenkessel/core',
  '@hexenkessel/demo',
  '@hexenkessel/server',
  '@hexenkessel/web',
  'hexenkessel-cli',
];

const dependencyRule = Object.entries(allowed).map(([name, may]) => ({
  files: [`packages/${name}/src/**`],
  ignores: ['**/*.test.ts', '**/testing/**'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: [
              ...packages.filter((other) => !may.includes(other)).flatMap((other) => [other, `${other}/*`]),
              '**/packages/**',
            ],
            message: `${name} may import only ${may.join(', ') || 'none of the other packages'}.`,
          },
          ...(name === 'core'
            ? [{ group: ['node:*', 'react', 'react-dom'], message: 'The core knows neither Node nor the page.' }]
            : []),
        ],
      },
    ],
  },
}));

/** What engines may compute differently in the last bit; the core has its own in dsp/portableMath.ts. */
const unportable = [
  'sin',
  'cos',
  'tan',
  'asin',
  'acos',
  'atan',
  'atan2',
  'sinh',
  'cosh',
  'tanh',
  'exp',
  'expm1',
  'log',
  'log2',
  'log10',
  'log1p',
  'pow',
  'cbrt',
  'hypot',
  'random',
];

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'data/**', 'test-results/**', 'docs/**', '**/script/examples/**'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'off',
    },
  },
  ...dependencyRule,
  {
    files: ['packages/core/src/**', 'packages/demo/src/**'],
    ignores: ['**/*.test.ts', '**/testing/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...unportable.map((property) => ({
          object: 'Math',
          property,
          message: 'Engines differ in its last bit; use dsp/portableMath or a seeded generator.',
        })),
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "BinaryExpression[operator='**'] > Identifier.right",
          message: 'Engines differ in the last bit of **; use pow of dsp/portableMath.',
        },
        { selector: 'ExportDefaultDeclaration', message: 'Name what is exported.' },
      ],
    },
  },
  {
    // What runs in the audio thread takes no memory, throws nothing and logs nothing.
    files: ['packages/core/src/{dsp,stages,engine,modulation}/**'],
    ignores: ['**/*.test.ts', 'packages/core/src/engine/offline/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['MethodDefinition', 'Property'].flatMap((holder) =>
          [
            ['NewExpression', 'takes memory'],
            ['ArrayExpression', 'takes memory'],
            ['ObjectExpression', 'takes memory'],
            ['TemplateLiteral', 'takes memory'],
            ['SpreadElement', 'takes memory'],
            ['ArrayPattern', 'takes an iterator'],
            ['ArrowFunctionExpression', 'takes memory'],
            ['ForOfStatement', 'takes an iterator'],
            ['ThrowStatement', 'throws'],
            ["MemberExpression[object.name='console']", 'logs'],
            [
              'CallExpression[callee.property.name=/^(map|filter|flatMap|slice|subarray|concat|forEach|reduce|entries|keys|values)$/]',
              'takes memory',
            ],
          ].map(([what, why]) => ({
            selector: `${holder}[key.name=/^(process|reset|advance|read|pass|tune|start|over|mark|valueAt|setValues|setDepths)$/] > FunctionExpression ${what}`,
            message: `This runs in the audio thread and ${why}.`,
          })),
        ),
        {
          selector: "BinaryExpression[operator='**'] > Identifier.right",
          message: 'Engines differ in the last bit of **; use pow of dsp/portableMath.',
        },
        { selector: 'ExportDefaultDeclaration', message: 'Name what is exported.' },
      ],
    },
  },
  {
    files: ['packages/web/src/**'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
);
