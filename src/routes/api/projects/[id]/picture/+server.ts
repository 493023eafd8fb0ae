import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { projects, files, workers } = await services();
		const project = await projects.get(params.id);
		const svg = await projects.picture(project.id, project.revision, async () => {
			const recipe = { project: project.id, text: project.text, files: await files.laidOut(project.files) };
			const running = workers.run('picture', [recipe]);
			// Nobody looks at it any more.
			request.signal.addEventListener('abort', () => running.stop());
			return running.result;
		});
		return new Response(svg, { headers: { 'content-type': 'image/svg+xml', 'cache-control': 'no-cache', etag: project.etag } });
	});
