import tseslint from 'typescript-eslint';
import regexp from 'eslint-plugin-regexp';
import hooks from 'eslint-plugin-react-hooks';

export default tseslint.config(
  { ignores: ['node_modules/', '.next/', '.build/', '.data*/', 'next-env.d.ts', '**/*.cjs', '**/*.mjs'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, regexp },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': ['error', { allow: ['warn', 'error'] }],
      // A pattern that goes back over what it has read takes minutes on a hostile line.
      'regexp/no-super-linear-backtracking': ['error', { report: 'certain' }],
      'regexp/no-super-linear-move': ['error', { report: 'certain' }],
      'no-nested-ternary': 'error',
      'max-statements-per-line': ['error', { max: 1 }],
      complexity: ['warn', 40],
      'one-var': ['error', { initialized: 'never' }],
    },
  },
  { files: ['src/cli/**', 'bench/**'], rules: { 'no-console': 'off' } },
);
