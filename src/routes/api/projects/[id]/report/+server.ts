import { answering } from '../../../../../server/problem.ts';
import { takeOutput } from '../../../../../server/outputs.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { projects, files, pool } = await services();
		const project = await projects.get(params.id);
		const task = { project: project.id, text: project.text, files: await files.getAll(project.files), output: 'report' };
		const running = pool.run(task);
		// Nobody waits for it any more.
		request.signal.addEventListener('abort', () => running.stop());
		const output = await takeOutput(await running.result);
		return new Response(new Uint8Array(output), { headers: { 'content-type': 'application/json', etag: project.etag } });
	});
