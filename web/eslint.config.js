import js from '@eslint/js'
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript'
import { importX } from 'eslint-plugin-import-x'
import hooks from 'eslint-plugin-react-hooks'
import a11y from 'eslint-plugin-jsx-a11y'
import globals from 'globals'
import ts from 'typescript-eslint'

/** What a folder may not reach up to. */
const below = (folder, ...above) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  ignores: ['src/**/*.test.*'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: above.map((name) => `**/${name}/**`), message: `${folder} knows nothing of ${above}.` },
        ],
      },
    ],
  },
})

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.strict,
  hooks.configs.flat['recommended-latest'] ?? hooks.configs.flat.recommended,
  a11y.flatConfigs.strict,
  {
    // A table that scrolls has to be reached by keys (axe: scrollable-region-focusable).
    rules: { 'jsx-a11y/no-noninteractive-tabindex': ['error', { roles: ['region'], tags: [] }] },
  },
  { languageOptions: { globals: globals.browser } },
  importX.flatConfigs.typescript,
  {
    plugins: { 'import-x': importX },
    settings: { 'import-x/resolver-next': [createTypeScriptImportResolver()] },
    rules: { 'import-x/no-cycle': 'error' },
  },
  below('api', 'ui', 'drawing', 'chapters', 'pages'),
  below('ui', 'drawing', 'chapters', 'pages'),
  below('drawing', 'chapters', 'pages'),
  below('chapters', 'pages'),
)
