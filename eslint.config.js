import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Forbids imports in one folder; imports point one way: routes → stages → train, rail, ui → core. */
const keepOut = (files, ...groups) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: groups.map(([group, message]) => ({ group, message, caseSensitive: true })) }
    ]
  }
});

const STAGES = ['build', 'drawer', 'trains'];
const stagesBut = (own) => STAGES.filter((stage) => stage !== own).flatMap((s) => [`$lib/${s}`, `$lib/${s}/**`]);
const server = [['$lib/server', '$lib/server/**', 'pg'], 'Only routes and lib/server speak to the database.'];
const routes = [['**/routes/**', '$app/**', './$types'], 'Libraries do not know the routes.'];

export default ts.config(
  {
    ignores: [
      '**/generated/',
      'build/',
      'build-test/',
      '.svelte-kit/',
      '.svelte-kit-test/',
      'test-results/',
      'playwright-report/'
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
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
    rules: { 'svelte/no-navigation-without-resolve': 'off' }
  },
  keepOut(
    ['core/src/**'],
    [
      ['svelte', 'svelte/**', '@sveltejs/**', '$app/**', '$lib/**', 'node:*', 'pg', 'd3*'],
      'core is pure computation: no interface, no Node, no database.'
    ]
  ),
  keepOut(['src/lib/ui/**'], server, routes, [
    [...stagesBut(), '$lib/train/**', '$lib/rail/**', '$lib/element/**', '$lib/parts/**', '$lib/sync/**'],
    'Small controls know only core.'
  ]),
  keepOut(['src/lib/sync/**'], server, routes, [
    [...stagesBut(), '$lib/train/**', '$lib/rail/**', '$lib/element/**', '$lib/parts/**'],
    'What keeps work does not know what work it is.'
  ]),
  keepOut(['src/lib/element/**', 'src/lib/parts/**'], server, routes, [
    [...stagesBut(), '$lib/train/**', '$lib/rail/**'],
    'The fields of an element and the parts of the drawer know no train.'
  ]),
  keepOut(['src/lib/workers/**'], server, routes, [
    [...stagesBut(), '$lib/train/**', '$lib/rail/**', '$lib/ui/**', '$lib/element/**', '$lib/parts/**'],
    'Workers wrap core.'
  ]),
  keepOut(
    ['src/lib/train/**'],
    [['$lib/element/**', '$lib/parts/**'], 'The document knows neither its fields nor the drawer.'],
    server,
    [stagesBut(), 'lib/train stands below the stages.'],
    [['$lib/rail/**'], 'The document does not know its drawing.']
  ),
  keepOut(['src/lib/rail/**'], server, routes, [stagesBut(), 'lib/rail stands below the stages.']),
  keepOut(['src/lib/api/**'], server, routes, [
    [...stagesBut(), '$lib/train/**', '$lib/rail/**', '$lib/ui/**', '$lib/sync/**'],
    'The API is shared by browser and server.'
  ]),
  ...STAGES.map((stage) =>
    keepOut([`src/lib/${stage}/**`], server, routes, [stagesBut(stage), 'Stages do not import each other.'])
  ),
  keepOut(
    ['src/lib/server/**'],
    [
      [
        ...stagesBut(),
        '$lib/train/**',
        '$lib/rail/**',
        '$lib/ui/**',
        '$lib/element/**',
        '$lib/parts/**',
        '$lib/sync/**'
      ],
      'The server does not know the interface.'
    ]
  ),
  keepOut(['cli/src/**'], [['svelte', '$app/**', '$lib/**', 'pg', 'd3*'], 'The command line stands on core alone.'])
);
