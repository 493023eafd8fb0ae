import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, files, pool } = await services();
		const project = await projects.get(params.id);
		let svg = await projects.picture(project.id, project.revision);
		if (svg === undefined) {
			const task = { text: project.text, files: await files.getAll(project.files), output: 'picture' };
			svg = new TextDecoder().decode(await pool.run(task).result);
			await projects.keepPicture(project.id, project.revision, svg);
		}
		return new Response(svg, { headers: { 'content-type': 'image/svg+xml', 'cache-control': 'no-cache', etag: project.etag } });
	});
