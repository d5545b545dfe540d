import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['src/api/types.ts'] },
  ...tseslint.configs.strict,
  jsxA11y.flatConfigs.recommended,
  {
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  // A scrolling region must take the focus, or the keyboard cannot scroll it.
  { rules: { '@typescript-eslint/no-non-null-assertion': 'off', 'jsx-a11y/no-noninteractive-tabindex': 'off' } },
);
