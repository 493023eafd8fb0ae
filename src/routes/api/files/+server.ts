import { json } from '@sveltejs/kit';
import { answering } from '../../../server/problem.ts';
import { services } from '../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request }) =>
	answering(async () => {
		const content = new Uint8Array(await request.arrayBuffer());
		return json(await (await services()).files.put(content), { status: 201 });
	});
