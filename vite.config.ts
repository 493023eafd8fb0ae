import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { viteBytes } from './scripts/bytes.mjs';
import { packagesNoted } from './scripts/licences.mjs';

export default defineConfig({
	plugins: [viteBytes(), tailwindcss(), sveltekit(), packagesNoted()],
	worker: { format: 'es', plugins: () => [viteBytes(), packagesNoted()] },
	build: { target: 'es2022', chunkSizeWarningLimit: 4000 }
});
