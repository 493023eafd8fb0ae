import type { Project } from '../../../../../api/schemas.ts';
import { eventStream } from '../../../../../server/event-stream.ts';
import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: the revision of a project whose document is a file on disk, now and after every change; of others, now alone. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, document } = await services();
		const now = await projects.get(params.id);
		return eventStream<Pick<Project, 'revision' | 'etag'>>((send, end) => {
			const notify = ({ revision, etag }: Project) => send({ revision, etag });
			notify(now);
			if (document?.project === params.id) return document.listen(notify);
			end();
			return () => {};
		});
	});
