import { answering } from '../../../../../server/problem.ts';
import { streamOutput } from '../../../../../server/outputs.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { output, mediaType, fileName } = (await services()).jobs.file(params.id);
		return new Response(streamOutput(output), {
			headers: {
				'content-length': String(output.size),
				'content-type': mediaType,
				'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`
			}
		});
	});
