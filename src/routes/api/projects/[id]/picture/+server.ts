import { answering } from '../../../../../server/problem.ts';
import { takeOutput } from '../../../../../server/outputs.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, files, pool } = await services();
		const project = await projects.get(params.id);
		const svg = await projects.picture(project.id, project.revision, async () => {
			const task = { project: project.id, text: project.text, files: await files.getAll(project.files), output: 'picture' };
			return new TextDecoder().decode(await takeOutput(await pool.run(task).result));
		});
		return new Response(svg, { headers: { 'content-type': 'image/svg+xml', 'cache-control': 'no-cache', etag: project.etag } });
	});
