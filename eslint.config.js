import js from '@eslint/js';
import globals from 'globals';
import vue from 'eslint-plugin-vue';
import ts from 'typescript-eslint';

/**
 * The arrows of docs/architecture.md: what each room may import of the project. Whatever is not named here is
 * refused.
 */
/** @type {Record<string, string[]>} */
const ARROWS = {
  'packages/core': [],
  'packages/formats': ['core'],
  'packages/operations': ['core', 'formats'],
  'packages/contracts': ['core', 'formats', 'operations'],
  'packages/demo': ['core', 'formats', 'operations'],
  'apps/server': ['core', 'formats', 'operations', 'contracts', 'demo'],
  'apps/studio': ['core', 'formats', 'operations', 'contracts'],
  'apps/cli': ['core', 'formats', 'operations', 'demo'],
};
const ROOMS = ['core', 'formats', 'operations', 'contracts', 'demo', 'server', 'studio', 'cli'];

/**
 * Rooms within core, from the bottom up: a room may import those before it and none after it.
 * @type {string[]}
 */
const CORE_ROOMS = [
  ...[
    'errors',
    'sharedArrays',
    'kernel',
    'math',
    'color',
    'image',
    'adjust',
    'pattern',
    'mesh',
    'uv',
    'inspection',
    'trace',
  ],
  ...['bake', 'measure', 'derive', 'seamless', 'atlas', 'layers', 'combine', 'light', 'testing'],
];

/** @param {string} folder @param {string[]} allowed @returns {{ regex: string, message: string }[]} */
const betweenPackages = (folder, allowed) => [
  {
    regex: `^@zographos/(${ROOMS.filter((room) => !allowed.includes(room)).join('|')})(/|$)`,
    message: `${folder} may import only: ${allowed.join(', ') || 'nothing of the project'}.`,
  },
  { regex: '/(packages|apps)/', message: 'Import another room by its package name.' },
];

/** @type {import("eslint").Linter.Config[]} */
const arrows = [
  ...Object.entries(ARROWS).map(([folder, allowed]) => ({
    files: [`${folder}/**/*.{ts,vue}`],
    rules: /** @type {import("eslint").Linter.RulesRecord} */ ({
      'no-restricted-imports': ['error', { patterns: betweenPackages(folder, allowed) }],
    }),
  })),
  ...CORE_ROOMS.slice(0, -1).map((room, i) => ({
    files: [`packages/core/src/${room}/**/*.ts`, `packages/core/src/${room}.ts`],
    ignores: ['**/*.test.ts'],
    rules: /** @type {import("eslint").Linter.RulesRecord} */ ({
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...betweenPackages('packages/core', []),
            {
              regex: `^\\.\\.?/(\\.\\./)*(${CORE_ROOMS.slice(i + 1).join('|')})(/|\\.ts$)`,
              message: `Within core, ${room} may import only rooms below it: ${CORE_ROOMS.slice(0, i).join(', ')}.`,
            },
          ],
        },
      ],
    }),
  })),
];

/** Core computes and nothing else; the studio and what it shares run in a browser. */
/** @type {import("eslint").Linter.Config} */
const noNode = {
  files: ['packages/core/src/**/*.ts', 'packages/contracts/src/**/*.ts', 'apps/studio/src/**/*.{ts,vue}'],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-syntax': [
      'error',
      { selector: 'ImportDeclaration[source.value=/^node:/]', message: 'No Node here.' },
    ],
  },
};

export default ts.config(
  // The kernel is AssemblyScript, which its own compiler checks.
  {
    ignores: [
      'build/**',
      '**/node_modules/**',
      '.data/**',
      'packages/core/kernel/*.ts',
      'packages/core/kernel/{trace,picture,light}/**',
    ],
  },
  js.configs.recommended,
  ...ts.configs.strictTypeChecked.map((config) => ({ ...config, files: ['**/*.ts', '**/*.vue'] })),
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.ts', '**/*.vue'],
    languageOptions: {
      globals: { ...globals.node, ...globals.browser },
      parserOptions: {
        parser: ts.parser,
        extraFileExtensions: ['.vue'],
        project: ['./tsconfig.json', './apps/studio/tsconfig.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      // Index checks are on (noUncheckedIndexedAccess); in hot loops the index is known to be good.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      // The schemas of typeorm are plain objects by design.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      'no-undef': 'off',
    },
  },
  {
    files: ['**/*.{js,mjs}'],
    languageOptions: { globals: globals.node },
  },
  {
    files: ['**/*.vue'],
    rules: {
      // Layout of templates is the formatter's business.
      'vue/html-indent': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/require-default-prop': 'off',
      'vue/multi-word-component-names': 'off',
    },
  },
  noNode,
  ...arrows,
);
