import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { attachment } from '../../../../../server/guard.ts';
import { answering } from '../../../../../server/problem.ts';
import { services } from '../../../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const { jobs } = await services();
		const { path, size, mediaType, fileName } = await jobs.file(params.id);
		const content = createReadStream(path);
		content.once('end', () => void jobs.fetched(params.id).catch(() => {}));
		return new Response(Readable.toWeb(content) as ReadableStream<Uint8Array>, {
			headers: { 'content-length': String(size), 'content-type': mediaType, ...attachment(fileName) }
		});
	});
