import { json } from '@sveltejs/kit';
import { NewDelivery } from '../../../../../api/schemas.ts';
import { parseSettings } from '../../../../../core/recipe/settings.ts';
import { deliveryFormats, downloadOf, formatByEnding, readOptions } from '../../../../../formats/delivery.ts';
import { answering, ProblemError, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';
import { sentenceOf, UserError } from '../../../../../core/text/user-error.ts';

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { format: ending, options, settings } = await readBody(request, NewDelivery);
		const format = ending === 'all' ? ending : formatByEnding(ending);
		if (!format)
			throw new ProblemError(
				400,
				'Bad request',
				`there is no format \`${ending}\`; there are ${deliveryFormats.map((f) => f.name).join(', ')}, and \`all\` for what the recipe asks for`
			);
		try {
			if (format !== 'all') readOptions(format, options);
			else if (options) throw new UserError('the options of what the recipe asks for stand in the recipe');
			parseSettings(settings ?? {});
		} catch (error) {
			throw new ProblemError(400, 'Bad request', sentenceOf(error));
		}
		const { projects, files, jobs } = await services();
		const project = await projects.get(params.id);
		const task = {
			project: project.id,
			text: project.text,
			files: await files.getAll(project.files),
			output: format === 'all' ? format : format.name,
			...(options ? { options } : {}),
			...(settings ? { settings } : {})
		};
		const { name, mediaType } = downloadOf(project.title, format);
		const job = jobs.start(task, mediaType, name);
		return json(job, { status: 202, headers: { location: `/api/jobs/${job.id}` } });
	});
