import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: the revision of a project whose document is a file on disk, now and after every change; of others, now alone. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, document } = await services();
		const now = await projects.get(params.id);
		let unwatch = () => {};
		const stream = new ReadableStream<Uint8Array>({
			start(controller) {
				const tell = ({ revision, etag }: { revision: number; etag: string }) =>
					controller.enqueue(new TextEncoder().encode(`data: ${JSON.stringify({ revision, etag })}\n\n`));
				tell(now);
				if (document?.project === params.id) unwatch = document.listen(tell);
				else controller.close();
			},
			cancel: () => unwatch()
		});
		return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
	});
