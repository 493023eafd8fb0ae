/** Is refused when a worker comes to an end by itself, or says what cannot be read; never fulfilled. */
export function crashOf(worker: Worker): Promise<never> {
	const crashed = new Promise<never>((_, reject) => {
		worker.addEventListener('error', (event) => reject(new Error(event.message)));
		worker.addEventListener('messageerror', () => reject(new Error('a message of the worker could not be read')));
	});
	// A rejection that nobody awaits must not end the process.
	crashed.catch(() => {});
	return crashed;
}
