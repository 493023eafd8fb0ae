import { type ChildProcess, spawn } from 'node:child_process';
import { Worker } from 'node:worker_threads';

/** Children that are at work. */
const children = new Set<ChildProcess>();

let passesSignals = false;

/** Signals that end this process, and the numbers that the system gives them. */
const ending = { SIGHUP: 1, SIGINT: 2, SIGTERM: 15 } as const;

/**
 * Starts a Node process of this program that ends with this one, whatever ends it: a signal is passed on, and a child whose
 * channel to its parent is gone ends by itself (see {@link endWithParent}).
 *
 * @param words script and arguments
 */
export function startChild(words: readonly string[], { cwd, env }: { cwd?: string; env?: NodeJS.ProcessEnv } = {}): ChildProcess {
	if (!passesSignals) {
		passesSignals = true;
		for (const [signal, number] of Object.entries(ending))
			process.once(signal, () => {
				for (const child of children) child.kill('SIGTERM');
				process.exit(128 + number);
			});
	}
	const child = spawn(process.execPath, words, {
		stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
		...(cwd ? { cwd } : {}),
		env: { ...process.env, ...env, [parentVariable]: String(process.pid) }
	});
	children.add(child);
	child.once('exit', () => children.delete(child));
	return child;
}

/** Says to a child which process it belongs to: when the child asks, that one may be gone already. */
const parentVariable = 'TESSELLON_PARENT';

/** How often a child looks whether its parent is still there, in milliseconds. */
const interval = 500;

/**
 * Ends this process when its parent is gone, where it was started by {@link startChild}. A thread watches, because a process that
 * computes hears of nothing for as long as a mesh takes.
 */
export function endWithParent(): void {
	const parent = process.env[parentVariable];
	if (parent === undefined) return;
	// What this process starts by other ways belongs to nobody.
	delete process.env[parentVariable];
	// The parent may have gone while this process was loading.
	if (!process.channel) process.exit(1);
	process.on('disconnect', () => process.exit(1));
	// The channel alone keeps nobody alive.
	process.channel.unref();
	const watching = `setInterval(() => process.ppid === ${parent} || process.kill(process.pid, 'SIGKILL'), ${interval})`;
	new Worker(watching, { eval: true }).unref();
}
