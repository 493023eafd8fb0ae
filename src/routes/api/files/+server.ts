import { json } from '@sveltejs/kit';
import { answering, ProblemError } from '../../../server/problem.ts';
import { services } from '../../../server/services.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request }) =>
	answering(async () => {
		// A body without a type reads as empty here.
		if (!request.headers.get('content-type'))
			throw new ProblemError(415, 'No type', 'send the file with a content type, such as application/octet-stream');
		const content = new Uint8Array(await request.arrayBuffer());
		if (content.length === 0) throw new ProblemError(400, 'Bad request', 'the file is empty');
		return json(await (await services()).files.put(content), { status: 201 });
	});
