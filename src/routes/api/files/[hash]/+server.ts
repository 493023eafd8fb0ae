import { attachment } from '../../../../server/guard.ts';
import { answering } from '../../../../server/problem.ts';
import { services } from '../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const content = await (await services()).files.get(params.hash);
		return new Response(new Uint8Array(content), {
			headers: {
				'content-type': 'application/octet-stream',
				'cache-control': 'public, max-age=31536000, immutable',
				...attachment(`${params.hash}.bin`)
			}
		});
	});
