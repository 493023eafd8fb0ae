import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: the job now, and after every change until it ends. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { jobs } = await services();
		jobs.get(params.id);
		let unwatch = () => {};
		const stream = new ReadableStream<Uint8Array>({
			start(controller) {
				let open = true;
				unwatch = jobs.watch(params.id, (job) => {
					if (!open) return;
					controller.enqueue(new TextEncoder().encode(`data: ${JSON.stringify(job)}\n\n`));
					if (job.state === 'running') return;
					open = false;
					controller.close();
				});
			},
			cancel: () => unwatch()
		});
		return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
	});
