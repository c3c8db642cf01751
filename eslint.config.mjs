import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['node_modules', 'dist', 'var', '.expo', 'test-results'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    files: ['**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-floating-promises': 'error',
      eqeqeq: 'error',
    },
    languageOptions: { parserOptions: { projectService: true } },
  },
  {
    // One table of time zones for all of it: what a machine knows by itself differs from one to the next.
    files: ['**/*.{ts,tsx}'],
    ignores: ['core/zones/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [
            {
              name: 'luxon',
              importNames: ['IANAZone', 'FixedOffsetZone'],
              message: 'Take zones from core/zones.',
            },
          ],
        },
      ],
    },
  },
  {
    // Inside a transaction only its own connection: whoever asks for another can wait for itself for ever. The server
    // refuses it at once when it happens; here it does not come so far.
    files: ['server/**/*.ts', 'cli/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['inTransaction', 'inSnapshot', 'changeEstate'].flatMap((name) => [
          {
            selector: `CallExpression[callee.name="${name}"] > ArrowFunctionExpression CallExpression[callee.property.name=/^(current|judgements)$/]`,
            message:
              'Read the estate before the transaction, or through changeEstate: this asks for another connection.',
          },
          {
            selector: `CallExpression[callee.name="${name}"] > ArrowFunctionExpression MemberExpression[object.name="services"][property.name="db"]`,
            message: 'Inside a transaction only its own connection (tx) can be asked.',
          },
          {
            selector: `CallExpression[callee.name="${name}"] > ArrowFunctionExpression CallExpression[callee.name=/^(inTransaction|inSnapshot|changeEstate|changePerson|changeDevice)$/]`,
            message: 'A transaction within a transaction needs a second connection.',
          },
        ]),
      ],
    },
  },
  // Playwright's fixtures name what they need by taking an object apart, even where that is nothing.
  { files: ['e2e/**'], rules: { 'no-empty-pattern': 'off' } },
  {
    files: ['**/*.{js,mjs,cjs}'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        module: 'writable',
        require: 'readonly',
        __dirname: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        performance: 'readonly',
        fetch: 'readonly',
        document: 'readonly',
        window: 'readonly',
        Buffer: 'readonly',
      },
    },
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
);
