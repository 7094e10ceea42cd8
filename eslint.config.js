import importX from 'eslint-plugin-import-x';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// What the compiler does not see: hooks out of order, what a keyboard or a reader cannot use, modules that go in a circle.
export default tseslint.config(
    { ignores: ['public/**', 'var/**', 'vendor/**', 'node_modules/**', 'resources/js/api/schema.d.ts'] },
    {
        files: ['resources/js/**/*.{ts,tsx}', 'e2e/**/*.ts'],
        extends: [tseslint.configs.recommended],
        plugins: { 'import-x': importX },
        settings: {
            'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
            'import-x/resolver': { typescript: { project: './tsconfig.json' } },
        },
        rules: {
            'import-x/no-cycle': 'error',
            '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
            '@typescript-eslint/no-non-null-assertion': 'off',
            '@typescript-eslint/no-unused-expressions': ['error', { allowTernary: true, allowShortCircuit: true }],
            eqeqeq: ['error', 'always', { null: 'ignore' }],
        },
    },
    {
        files: ['resources/js/**/*.tsx'],
        ...jsxA11y.flatConfigs.recommended,
        rules: {
            ...jsxA11y.flatConfigs.recommended.rules,
            // The first field of a sheet, and the one that a probe is typed into, have the focus: hands are full.
            'jsx-a11y/no-autofocus': 'off',
            'jsx-a11y/label-has-associated-control': ['error', { assert: 'either', depth: 6 }],
            // A table that scrolls is reached by the keyboard as a region with a name.
            'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: [], roles: ['tabpanel', 'region'] }],
        },
    },
    {
        files: ['resources/js/**/*.{ts,tsx}'],
        plugins: { 'react-hooks': reactHooks },
        rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
    },
);
