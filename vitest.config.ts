import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	// Classes with runes are tested as they are compiled for the server: their state is plain fields.
	plugins: [svelte()],
	test: {
		globalSetup: ['tests/build-once.ts'],
		setupFiles: ['tests/seed.ts'],
		include: ['src/**/*.test.ts'],
		testTimeout: 60_000
	}
});
