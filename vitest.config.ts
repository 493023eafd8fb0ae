import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';
import { viteBytes } from './scripts/bytes.mjs';

export default defineConfig({
	// Classes with runes are tested as they are compiled for the server: their state is plain fields.
	plugins: [viteBytes(), svelte()],
	test: {
		globalSetup: ['tests/build-once.ts'],
		setupFiles: ['tests/seed.ts'],
		include: ['src/**/*.test.ts'],
		// Files that are taken in as bytes are modules of ours.
		server: { deps: { inline: [/bytes:/] } },
		// Nothing else runs beside them: every core has a file.
		maxWorkers: '100%',
		testTimeout: 60_000
	}
});
