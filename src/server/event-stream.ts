/**
 * An answer of server-sent events, each a value as JSON.
 *
 * @param start begins to send, ends the stream with `end`, and gives what stops it when the client goes
 */
export function eventStream<T>(start: (send: (value: T) => void, end: () => void) => () => void): Response {
	let stop = () => {};
	let isOpen = true;
	const stream = new ReadableStream<Uint8Array>({
		start(controller) {
			stop = start(
				(value) => {
					if (isOpen) controller.enqueue(new TextEncoder().encode(`data: ${JSON.stringify(value)}\n\n`));
				},
				() => {
					if (isOpen) controller.close();
					isOpen = false;
				}
			);
		},
		cancel() {
			isOpen = false;
			stop();
		}
	});
	return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
