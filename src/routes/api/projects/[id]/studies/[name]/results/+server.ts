import { json } from '@sveltejs/kit';
import { NewStudyResults } from '../../../../../../../api/schemas.ts';
import { answering, readBody } from '../../../../../../../server/problem.ts';
import { services } from '../../../../../../../server/services.ts';
import { studyOf } from '../../../../../../../server/study-of.ts';
import type { CaseOutcome } from '../../../../../../../server/tasks.ts';
import type { RequestHandler } from './$types';

/** What came of the cases of a study of the present recipe. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, results } = await services();
		const project = await projects.get(params.id);
		const study = studyOf(project.text, params.name);
		return json({ results: await results.of(project.id, study, results.groundOf(project)) });
	});

/** Keeps what came of cases that were run in another place, as the desk does. */
export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { revision, results: given } = await readBody(request, NewStudyResults);
		const { projects, results } = await services();
		const recipe = await projects.revision(params.id, revision);
		const study = studyOf(recipe.text, params.name);
		await results.put(
			params.id,
			study,
			results.groundOf(recipe),
			given.map(({ settings, refine, ...outcome }) => ({ case: { settings, refine }, ...(outcome as CaseOutcome) }))
		);
		return new Response(null, { status: 204 });
	});
