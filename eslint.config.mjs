import js from '@eslint/js';
import angular from 'angular-eslint';
import prettier from 'eslint-config-prettier';
import { defineConfig, globalIgnores } from 'eslint/config';
import tseslint from 'typescript-eslint';

export default defineConfig(
  globalIgnores(['**/dist/', 'node_modules/', '.angular/', '.data/', '.soak/', '.test/', 'test-results/']),
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [tseslint.configs.recommended],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Zod's default export brings every locale into the bundle.
      'no-restricted-syntax': [
        'error',
        { selector: "ImportDeclaration[source.value='zod'] > ImportSpecifier", message: "import * as z from 'zod'" },
      ],
    },
  },
  {
    files: ['packages/web/src/**/*.ts'],
    extends: [angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: { '@angular-eslint/prefer-on-push-component-change-detection': 'error' },
  },
  {
    // What the first page loads: through a front door, all that any screen uses of it comes along.
    files: [
      'packages/web/src/{main,app/app,app/app.routes,app/refused}.ts',
      'packages/web/src/app/api/{session,client}.ts',
      'packages/contract/src/{session,problem,sentences}.ts',
    ],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          paths: ['@convite/core', '@convite/contract'].map((name) => ({
            name,
            allowTypeImports: true,
            message: 'The first page loads this: import the file that it needs, as @convite/core/time/manner.',
          })),
        },
      ],
    },
  },
  {
    files: ['packages/web/**/*.html'],
    extends: [angular.configs.templateRecommended, angular.configs.templateAccessibility],
    rules: { '@angular-eslint/template/no-any': 'error' },
  },
  {
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        fetch: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        document: 'readonly',
        require: 'readonly',
        module: 'writable',
        Buffer: 'readonly',
        SharedArrayBuffer: 'readonly',
        Atomics: 'readonly',
        performance: 'readonly',
      },
    },
  },
  prettier,
);
