import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { projects, files, workers } = await services();
		const project = await projects.get(params.id);
		const recipe = { project: project.id, text: project.text, files: await files.laidOut(project.files) };
		const running = workers.run('figures', [recipe]);
		// Nobody waits for it any more.
		request.signal.addEventListener('abort', () => running.stop());
		return new Response(await running.result, { headers: { 'content-type': 'application/json', etag: project.etag } });
	});
