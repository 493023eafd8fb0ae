import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';

/** A server of one test's own, as it is built: on a port of its own, with a folder of its own. */
export class OwnServer {
	private process: ChildProcess | undefined;
	readonly data: string;
	readonly base: string;
	/** What it printed to its error stream. */
	private printed = '';

	constructor(
		private readonly port: number,
		private readonly env: Record<string, string> = {},
		data?: string
	) {
		this.data = data ?? mkdtempSync(join(tmpdir(), 'tessellon-own-'));
		this.base = `http://127.0.0.1:${port}`;
	}

	/** Starts it, and waits until it answers. */
	async start(): Promise<void> {
		this.spawn();
		const status = () =>
			fetch(`${this.base}/api/projects`).then(
				(r) => r.status,
				() => 0
			);
		await expect.poll(status, { timeout: 60_000 }).toBe(this.env.TESSELLON_TOKEN ? 401 : 200);
	}

	/** Starts it where it cannot start; gives the code it ends with, and what it says. */
	refused(): Promise<{ code: number | null; printed: string }> {
		const process = this.spawn();
		return new Promise((resolve) => process.once('close', (code) => resolve({ code, printed: this.printed })));
	}

	kill(): void {
		this.process?.kill('SIGKILL');
	}

	private spawn(): ChildProcess {
		const started = spawn('node', ['scripts/start.mjs'], {
			env: { ...process.env, PORT: String(this.port), TESSELLON_DATA: this.data, TESSELLON_LOG: 'silent', ...this.env },
			stdio: ['ignore', 'ignore', 'pipe']
		});
		this.process = started;
		started.stderr.on('data', (bytes: Buffer) => (this.printed += bytes.toString()));
		return started;
	}
}
