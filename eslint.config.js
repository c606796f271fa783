import { defineConfig, globalIgnores } from 'eslint/config'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default defineConfig(
  globalIgnores(['dist/', 'node_modules/', 'docs/', '.dependency-cruiser.cjs']),
  ts.configs.strictTypeChecked,
  vue.configs['flat/recommended'],
  {
    languageOptions: {
      parserOptions: {
        parser: ts.parser,
        projectService: { allowDefaultProject: ['eslint.config.js'] },
        extraFileExtensions: ['.vue'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      // Counts and ids stand in texts as they are.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
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
    // In a test a value that is missing fails the test all the same.
    files: ['**/*.test.ts', '**/*.spec.ts', 'testing/**'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
)
