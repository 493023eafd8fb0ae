import { json } from '@sveltejs/kit';
import { answering, notFound } from '../../../../../../../server/problem.ts';
import { services } from '../../../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		if (!/^[1-9]\d{0,8}$/.test(params.number)) throw notFound(`revision “${params.number}”; they are counted from 1`);
		const { projects } = await services();
		const project = await projects.restore(params.id, request.headers.get('if-match'), Number(params.number));
		return json(project, { headers: { etag: project.etag } });
	});
