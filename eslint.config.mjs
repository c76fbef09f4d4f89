import jsdoc from 'eslint-plugin-jsdoc';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['**/node_modules/**', '**/.next/**', '**/next-env.d.ts', 'docs/**', 'web/public/**', '**/dist/**'] },
  ...ts.configs.strict,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off', // indexed access in numeric code
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-console': 'error',
      // the formatter breaks lines; what it leaves, such as comments, is held to this
      'max-len': ['error', { code: 160, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true }],
      // one thing each
      'max-lines-per-function': ['error', 100],
    },
  },
  {
    // Results must be the same in every engine: see quantity/elementary.ts.
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/quantity/elementary.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...[
          'sin',
          'cos',
          'tan',
          'asin',
          'acos',
          'atan',
          'atan2',
          'exp',
          'expm1',
          'log',
          'log2',
          'log10',
          'log1p',
          'pow',
          'hypot',
          'cbrt',
          'sinh',
          'cosh',
          'tanh',
          'random',
        ].map((property) => ({ object: 'Math', property, message: 'Differs between engines: use quantity/elementary.' })),
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "BinaryExpression[operator='**'], AssignmentExpression[operator='**=']",
          message: '** differs between engines: use square, cube, integerPower or pow of quantity/elementary.',
        },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'performance', 'setTimeout', 'fetch'],
    },
  },
  {
    // What the core offers says shapes, units and errors.
    files: ['core/src/**/*.ts'],
    plugins: { jsdoc },
    rules: {
      'jsdoc/require-jsdoc': [
        'error',
        {
          publicOnly: { ancestorsOnly: true },
          require: { FunctionDeclaration: true, ArrowFunctionExpression: true, FunctionExpression: true, ClassDeclaration: false },
          enableFixer: false,
        },
      ],
    },
  },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { ...hooks.configs.recommended.rules } },
  { files: ['bin/**', 'e2e/**', 'bench/**', 'core/tools/**'], rules: { 'no-console': 'off' } },
  {
    files: ['**/*.test.ts'],
    rules: { 'max-lines-per-function': 'off', '@typescript-eslint/no-explicit-any': 'off', '@typescript-eslint/no-dynamic-delete': 'off' },
  },
);
