import { json } from '@sveltejs/kit';
import { NewRevision } from '../../../../../api/schemas.ts';
import { answering, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => json(await (await services()).projects.history(params.id)));

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const revision = await readBody(request, NewRevision);
		const project = await (await services()).projects.edit(params.id, request.headers.get('if-match'), revision);
		return json(project, { status: 201, headers: { etag: project.etag } });
	});
