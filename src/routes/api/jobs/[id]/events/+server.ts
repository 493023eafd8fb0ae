import type { Job } from '../../../../../api/schemas.ts';
import { eventStream } from '../../../../../server/event-stream.ts';
import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

/** Server-sent events: the job now, and after every change until it ends. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { jobs } = await services();
		await jobs.get(params.id);
		return eventStream<Job>((send, end) =>
			jobs.watch(params.id, (job) => {
				send(job);
				if (job.state !== 'running') end();
			})
		);
	});
