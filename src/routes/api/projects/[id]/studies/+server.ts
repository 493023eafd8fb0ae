import { json } from '@sveltejs/kit';
import { NewStudy } from '../../../../../api/schemas.ts';
import { answering, ProblemError, readBody } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import { linesOf } from '../../../../../core/recipe/statement.ts';
import { study } from '../../../../../core/recipe/statements/study.ts';
import { parseRecipe } from '../../../../../core/recipe/parse.ts';
import { studyAmong } from '../../../../../formats/study.ts';
import type { RequestHandler } from './$types';
import { sentenceOf } from '../../../../../core/text/user-error.ts';

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { name } = await readBody(request, NewStudy);
		const { projects, files, jobs } = await services();
		const project = await projects.get(params.id);
		const names = linesOf(parseRecipe(project.text).lines, study).map(({ statement }) => statement.name.text);
		let own: string;
		try {
			own = studyAmong(names, name, '`name`');
		} catch (error) {
			throw new ProblemError(400, 'Bad request', sentenceOf(error));
		}
		const task = {
			project: project.id,
			text: project.text,
			files: await files.getAll(project.files),
			output: 'study',
			options: { name: own }
		};
		const job = jobs.start(task, 'application/zip', `${own}.zip`);
		return json(job, { status: 202, headers: { location: `/api/jobs/${job.id}` } });
	});
