import templatePlugin from '@angular-eslint/eslint-plugin-template';
import angularPlugin from '@angular-eslint/eslint-plugin';
import templateParser from '@angular-eslint/template-parser';
import tseslint from 'typescript-eslint';

// A bundler drops what is not used of a namespace; the object `z` brings all of it along.
const wholeZod = {
  selector: "ImportDeclaration[source.value='zod'] > ImportSpecifier",
  message: "Write import * as z from 'zod'.",
};

export default tseslint.config(
  { ignores: ['**/node_modules', '**/dist', '**/.angular', '.nettlewick'] },
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.strict, ...tseslint.configs.stylistic],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'separate-type-imports' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-definitions': ['error', 'interface'],
      eqeqeq: 'error',
      'no-eval': 'error',
      'no-new-func': 'error',
      'no-restricted-syntax': ['error', wholeZod],
    },
  },
  {
    // The core reads no clock, no locale and no random source: the same input gives the same bytes everywhere.
    files: ['packages/core/src/**/*.ts'],
    rules: {
      'no-restricted-globals': ['error', 'process', 'window', 'document', 'performance', 'setTimeout', 'fetch', 'Intl'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random' },
        { object: 'Date', property: 'now' },
        { property: 'toLocaleLowerCase' },
        { property: 'localeCompare' },
      ],
      'no-restricted-syntax': [
        'error',
        wholeZod,
        { selector: "NewExpression[callee.name='Date']", message: 'The core reads no clock.' },
      ],
    },
  },
  {
    files: ['apps/web/src/**/*.ts'],
    plugins: { '@angular-eslint': angularPlugin },
    rules: {
      // What a store holds is changed by itself alone.
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.name='patchState']:not([arguments.0.object.type='ThisExpression'][arguments.0.property.name='state']):not([arguments.0.name='store'])",
          message: 'A store is changed by its own methods.',
        },
        {
          selector:
            "ClassDeclaration:has(> Decorator > CallExpression[callee.name='Injectable']) PropertyDefinition > CallExpression[callee.name='signal']",
          message: 'What is shared is held by a store.',
        },
      ],
      // Angular knows a component by its decorator.
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/consistent-type-imports': 'off',
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
      '@angular-eslint/use-lifecycle-interface': 'error',
      '@angular-eslint/no-output-native': 'error',
    },
  },
  {
    files: ['apps/web/src/**/*.html'],
    languageOptions: { parser: templateParser },
    plugins: { '@angular-eslint/template': templatePlugin },
    rules: {
      ...templatePlugin.configs.recommended?.rules,
      ...templatePlugin.configs.accessibility?.rules,
      '@angular-eslint/template/click-events-have-key-events': 'error',
      '@angular-eslint/template/alt-text': 'error',
      // A label that is NG-ZORRO's checkbox makes its own field, and one around a list has it in the list: axe looks at what comes of them.
      '@angular-eslint/template/label-has-associated-control': 'off',
      '@angular-eslint/template/no-positive-tabindex': 'error',
      '@angular-eslint/template/eqeqeq': 'error',
      // What the browser shows of a title can neither be reached by keyboard nor put away.
      'no-restricted-syntax': [
        'error',
        { selector: 'TextAttribute[name="title"], BoundAttribute[name="title"]', message: 'A tip is `nwTip` or `data-tip`.' },
      ],
    },
  },
);
