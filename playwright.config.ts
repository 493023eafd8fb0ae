import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { defineConfig } from '@playwright/test';

const port = 4790;
// One folder for the whole run: workers load this file too.
process.env.TESSELLON_TEST_DATA ??= mkdtempSync(join(tmpdir(), 'tessellon-test-'));

export default defineConfig({
	testDir: 'tests',
	timeout: 90_000,
	expect: { timeout: 20_000 },
	workers: 2,
	// A shared CI machine may stall for longer than a person would wait.
	retries: process.env.CI ? 1 : 0,
	reporter: 'list',
	use: {
		baseURL: `http://127.0.0.1:${port}`,
		viewport: { width: 1280, height: 800 },
		trace: 'on-first-retry',
		launchOptions: {
			executablePath: '/usr/bin/chromium',
			args: [
				'--no-sandbox',
				'--disable-quic',
				'--no-first-run',
				'--disable-background-networking',
				'--disable-component-update',
				'--disable-sync',
				'--use-gl=angle',
				'--use-angle=swiftshader',
				'--enable-unsafe-swiftshader',
				// Without a graphics card the drawing alone goes through WebGL; pages are put together without it, many times as fast.
				'--disable-gpu-compositing'
			]
		}
	},
	webServer: {
		command: 'node scripts/start.mjs',
		url: `http://127.0.0.1:${port}/api/projects`,
		timeout: 240_000,
		env: { PORT: String(port), TESSELLON_DATA: process.env.TESSELLON_TEST_DATA }
	}
});
