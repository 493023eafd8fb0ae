import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { viteBytes } from './scripts/bytes.mjs';

export default defineConfig({
	plugins: [viteBytes(), tailwindcss(), sveltekit()],
	worker: { format: 'es', plugins: () => [viteBytes()] },
	build: { target: 'es2022', chunkSizeWarningLimit: 4000 }
});
