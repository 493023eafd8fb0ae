import { json } from '@sveltejs/kit';
import { NewDelivery } from '../../../../../api/schemas.ts';
import { deliveryFormats, deliveryName, formatByEnding } from '../../../../../formats/delivery.ts';
import { answering, ProblemError, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { format: ending } = await readBody(request, NewDelivery);
		const format = formatByEnding(ending);
		if (!format)
			throw new ProblemError(
				400,
				'Bad request',
				`there is no format \`${ending}\`; there are ${deliveryFormats.map((f) => f.ending).join(', ')}`
			);
		const { projects, files, jobs } = await services();
		const project = await projects.get(params.id);
		const task = { text: project.text, files: await files.getAll(project.files), output: format.ending };
		const job = jobs.start(task, format.mediaType, deliveryName(project.title, format.ending));
		return json(job, { status: 202, headers: { location: `/api/jobs/${job.id}` } });
	});
