import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
	{ ignores: ['.svelte-kit/', 'build/', 'dist/', 'data/', 'test-results/'] },
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs.recommended,
	{
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-non-null-assertion': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }]
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } }
	},
	{
		// Constants as they stand in the literature, with more digits than a double keeps.
		files: ['src/core/numeric/fdlibm*.ts'],
		rules: { 'no-loss-of-precision': 'off' }
	},
	{
		// Engines differ in the last bit of these; see src/core/numeric/elementary.ts.
		files: ['src/core/**/*.ts', 'src/formats/**/*.ts'],
		ignores: ['**/*.test.ts', 'src/core/numeric/elementary.ts'],
		rules: {
			'no-restricted-properties': [
				'error',
				...[
					'sin',
					'cos',
					'tan',
					'exp',
					'expm1',
					'log',
					'log10',
					'log2',
					'asin',
					'acos',
					'atan',
					'atan2',
					'pow',
					'hypot',
					'cbrt'
				].map((property) => ({
					object: 'Math',
					property,
					message: 'import it from core/numeric/elementary.ts, which gives the same last bit everywhere'
				}))
			]
		}
	}
);
