import { json } from '@sveltejs/kit';
import { NewDelivery } from '../../../../../api/schemas.ts';
import { parseSettings } from '../../../../../core/recipe/model/settings.ts';
import { sentenceOf, UserError } from '../../../../../core/text/user-error.ts';
import { deliveryFormats, downloadOf, formatByEnding, readOptions } from '../../../../../formats/delivery.ts';
import { answering, ProblemError, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request, locals }) =>
	answering(async () => {
		const { format: ending, options, settings } = await readBody(request, NewDelivery);
		const format = ending === 'all' ? ending : formatByEnding(ending);
		if (!format)
			throw new ProblemError(
				400,
				'Bad request',
				`there is no format “${ending}”; there are ${deliveryFormats.map((f) => f.name).join(', ')}, and “all” for what the recipe asks for`
			);
		try {
			if (format !== 'all') readOptions(format, options);
			else if (options) throw new UserError('the options of what the recipe asks for stand in the recipe');
			parseSettings(settings ?? {});
		} catch (error) {
			throw new ProblemError(400, 'Bad request', sentenceOf(error));
		}
		const { projects, jobs } = await services();
		const { id, revision, title } = await projects.get(params.id);
		const { name, mediaType } = downloadOf(title, format);
		const job = await jobs.start({
			owner: locals.client,
			project: id,
			revision,
			request: {
				kind: 'delivery',
				format: format === 'all' ? format : format.name,
				...(options ? { options } : {}),
				...(settings ? { settings } : {})
			},
			fileName: name,
			mediaType
		});
		return json(job, { status: 202, headers: { location: `/api/jobs/${job.id}` } });
	});
