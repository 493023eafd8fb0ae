/** A comment is sent after so long without an event, in milliseconds: proxies and clients end connections that say nothing. */
const heartbeat = 15_000;

/**
 * An answer of server-sent events, each a value as JSON.
 *
 * @param start begins to send, ends the stream with `end`, and gives what stops it when the client goes
 */
export function eventStream<T>(
	start: (send: (value: T) => void, end: () => void) => (() => void) | Promise<() => void>
): Response {
	let stop = () => {};
	let isOpen = true;
	let beat: ReturnType<typeof setInterval> | undefined;
	const encoder = new TextEncoder();
	const close = () => {
		isOpen = false;
		clearInterval(beat);
		stop();
	};
	const stream = new ReadableStream<Uint8Array>({
		async start(controller) {
			const write = (text: string) => {
				if (isOpen) controller.enqueue(encoder.encode(text));
			};
			beat = setInterval(() => write(': still here\n\n'), heartbeat);
			beat.unref();
			const begun = await start(
				(value) => write(`data: ${JSON.stringify(value)}\n\n`),
				() => {
					if (!isOpen) return;
					close();
					controller.close();
				}
			);
			// It may have ended, or its client gone, before it began.
			if (isOpen) stop = begun;
			else begun();
		},
		cancel: close
	});
	return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
}
