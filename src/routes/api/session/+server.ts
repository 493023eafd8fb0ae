import { endSession } from '../../../server/guard.ts';
import type { RequestHandler } from './$types';

/** Logs a browser out of a server with a token. */
export const DELETE: RequestHandler = ({ cookies }) => {
	endSession(cookies);
	return new Response(null, { status: 204 });
};
