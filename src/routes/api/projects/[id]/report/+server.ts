import { answering } from '../../../../../server/problem.ts';
import { takeOutput } from '../../../../../server/outputs.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { projects, files, pool } = await services();
		const project = await projects.get(params.id);
		const task = { project: project.id, text: project.text, files: await files.getAll(project.files), output: 'report' };
		const output = await takeOutput(await pool.run(task).result);
		return new Response(new Uint8Array(output), { headers: { 'content-type': 'application/json', etag: project.etag } });
	});
