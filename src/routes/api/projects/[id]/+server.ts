import { json } from '@sveltejs/kit';
import { answering } from '../../../../server/problem.ts';
import { services } from '../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const project = await (await services()).projects.get(params.id);
		return json(project, { headers: { etag: project.etag } });
	});

export const DELETE: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { projects, jobs } = await services();
		await projects.remove(params.id, request.headers.get('if-match'));
		await jobs.endOf(params.id);
		return new Response(null, { status: 204 });
	});
