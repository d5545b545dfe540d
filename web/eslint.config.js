import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Files that must not import from some others. */
const layer = (files, group) => ({
  files: [files],
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group, message: 'This layer does not know of that one.' }] }] },
});

export default tseslint.config(
  { ignores: ['src/api/types.ts'] },
  ...tseslint.configs.strictTypeChecked,
  jsxA11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    rules: {
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
    },
  },
  // What asks the server knows of nothing else here; the kit knows of no page; of pages, one takes from another only what it names.
  layer('src/api/**', ['../*']),
  layer('src/ui/**', ['**/fleet/*', '**/metrics/*', '**/people/*', '**/rules/*', '**/watch/*']),
  layer('src/metrics/**', ['**/fleet/*', '**/people/*', '**/rules/*', '**/watch/*']),
  layer('src/fleet/**', ['**/people/*', '**/rules/*', '**/watch/*']),
  layer('src/people/**', ['**/fleet/*', '**/metrics/*', '**/rules/*', '**/watch/*']),
  layer('src/rules/**', ['**/fleet/*', '**/people/*', '**/watch/*']),
  layer('src/watch/**', ['**/fleet/*', '**/metrics/*', '**/people/*', '**/rules/*']),
  // A scrolling region must take the focus, or the keyboard cannot scroll it.
  { rules: { '@typescript-eslint/no-non-null-assertion': 'off', 'jsx-a11y/no-noninteractive-tabindex': 'off' } },
);
