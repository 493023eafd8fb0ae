import { json } from '@sveltejs/kit';
import { NewProject } from '../../../api/schemas.ts';
import { answering, readBody } from '../../../server/problem.ts';
import { emptyRecipe } from '../../../core/recipe/empty.ts';
import { services } from '../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => answering(async () => json(await (await services()).projects.list()));

export const POST: RequestHandler = ({ request }) =>
	answering(async () => {
		const { text, files } = await readBody(request, NewProject);
		const project = await (await services()).projects.create(text ?? emptyRecipe(), files ?? {}, 'New project');
		return json(project, { status: 201, headers: { etag: project.etag, location: `/api/projects/${project.id}` } });
	});
