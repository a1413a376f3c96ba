import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
  {
    ignores: [
      '**/generated/',
      'build/',
      'build-test/',
      '.svelte-kit/',
      '.svelte-kit-test/',
      'test-results/',
      'playwright-report/',
      'stryker-tmp/',
      'reports/'
    ]
  },
  js.configs.recommended,
  ts.configs.strict,
  svelte.configs.recommended,
  prettier,
  svelte.configs.prettier,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Indexing with a bound that the loop itself keeps is clearer than a check that cannot fail.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      'no-undef': 'off',
      eqeqeq: 'error'
    }
  },
  {
    // A worker that dies leaves nobody waiting: there is one way to ask.
    files: ['src/**'],
    ignores: ['src/lib/workers/ask.ts', 'src/lib/workers/start.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [
            { name: 'comlink', importNames: ['wrap'], message: 'Ask a worker by lib/workers/ask.ts.' },
            // The door to all icons is four thousand files for the build to read.
            { name: '@lucide/svelte', message: 'Import an icon from its own file, @lucide/svelte/icons/…' }
          ]
        }
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "NewExpression[callee.name='Worker']", message: 'Workers are started in lib/workers/start.ts.' }
      ]
    }
  },
  {
    // Who looks for a name finds it where it is let out.
    files: ['core/src/**'],
    rules: {
      'no-restricted-syntax': ['error', { selector: 'ExportAllDeclaration', message: 'Name what is let out.' }]
    }
  },
  {
    // Test files share what they import: one that puts a module in place of another stands apart.
    files: ['**/*.test.ts'],
    ignores: ['**/*.mocked.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.object.name='vi'][callee.property.name='mock']",
          message: 'Name the file *.mocked.test.ts: its project shares no modules.'
        }
      ]
    }
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
    rules: { 'svelte/no-navigation-without-resolve': 'off' }
  }
);
