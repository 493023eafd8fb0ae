import { json } from '@sveltejs/kit';
import { NewStudy } from '../../../../../api/schemas.ts';
import { answering, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import { studyOf } from '../../../../../server/study-of.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request, locals }) =>
	answering(async () => {
		const { name } = await readBody(request, NewStudy);
		const { projects, jobs } = await services();
		const { id, revision, text } = await projects.get(params.id);
		const study = studyOf(text, name);
		const job = await jobs.start({
			owner: locals.client,
			project: id,
			revision,
			request: { kind: 'study', study },
			fileName: `${study}.zip`,
			mediaType: 'application/zip'
		});
		return json(job, { status: 202, headers: { location: `/api/jobs/${job.id}` } });
	});
