import { defineConfig, globalIgnores } from 'eslint/config'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

// Without types: components, whose compiler checks them anyway (the rules that need types took three quarters of the
// time), and everything in the quick loop.
const withoutTypes = process.env.NURTEL_QUICK_LINT === 'yes' ? ['**/*.ts', '**/*.vue'] : ['**/*.vue']
// The script of public pages is sent as it is written.
const browserScripts = [
  'visitor/pages/page.js',
  'visitor/quizzes/quiz.js',
  'visitor/capture/embed.js',
  'visitor/commerce/order.js',
]

export default defineConfig(
  globalIgnores(['dist/', 'node_modules/', 'docs/', '.dependency-cruiser.cjs']),
  ts.configs.strictTypeChecked,
  vue.configs['flat/recommended'],
  {
    languageOptions: {
      parserOptions: {
        parser: ts.parser,
        projectService: { allowDefaultProject: ['eslint.config.js'] },
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      // Counts and ids stand in texts as they are.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      // There are no enums: types that one can erase do.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      // A name with an underscore says: taken out, and not wanted.
      '@typescript-eslint/no-unused-vars': ['error', { varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      // Layout is prettier's.
      'vue/html-self-closing': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
    },
  },
  {
    files: [...withoutTypes, ...browserScripts],
    extends: [ts.configs.disableTypeChecked],
    languageOptions: { parserOptions: { parser: ts.parser, projectService: false } },
    rules: {
      // A property that is not given is undefined, as its type says.
      'vue/require-default-prop': 'off',
      // The form of a parent is filled in by its parts: it is one object with methods, not a value.
      'vue/no-mutating-props': ['error', { shallowOnly: true }],
    },
  },
  {
    // In a test a value that is missing fails the test all the same.
    files: ['**/*.test.ts', '**/*.spec.ts', 'testing/**'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
)
