import { json } from '@sveltejs/kit';
import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params }) =>
	answering(async () => {
		const project = await (await services()).projects.bringBack(params.id);
		return json(project, { headers: { etag: project.etag } });
	});
