import { answering } from '../../../../../server/problem.ts';
import { takeOutput } from '../../../../../server/outputs.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { projects, files, pool } = await services();
		const project = await projects.get(params.id);
		const svg = await projects.picture(project.id, project.revision, async () => {
			const task = { project: project.id, text: project.text, files: await files.getAll(project.files), output: 'picture' };
			const running = pool.run(task);
			// Nobody looks at it any more.
			request.signal.addEventListener('abort', () => running.stop());
			return new TextDecoder().decode(await takeOutput(await running.result));
		});
		return new Response(svg, { headers: { 'content-type': 'image/svg+xml', 'cache-control': 'no-cache', etag: project.etag } });
	});
