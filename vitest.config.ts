import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';
import { viteBytes } from './scripts/bytes.mjs';

/** Tests that change a module for all that use it. */
const changesModules = ['src/core/recipe/language/statements.test.ts'];

export default defineConfig({
	// Classes with runes are tested as they are compiled for the server: their state is plain fields.
	plugins: [viteBytes(), svelte()],
	test: {
		globalSetup: ['tests/build-once.ts'],
		setupFiles: ['tests/seed.ts'],
		// Files that are taken in as bytes are modules of ours.
		server: { deps: { inline: [/bytes:/] } },
		// Nothing else runs beside them: every core has a file.
		maxWorkers: '100%',
		testTimeout: 60_000,
		// A module is loaded once for all the files of a core: twice as fast, and state that outlives its run fails here, too.
		projects: [
			{ extends: true, test: { name: 'shared', include: ['src/**/*.test.ts'], exclude: changesModules, isolate: false } },
			{ extends: true, test: { name: 'alone', include: changesModules } }
		]
	}
});
