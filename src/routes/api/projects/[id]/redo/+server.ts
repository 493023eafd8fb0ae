import { json } from '@sveltejs/kit';
import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const project = await (await services()).projects.redo(params.id, request.headers.get('if-match'));
		return json(project, { headers: { etag: project.etag } });
	});
