import { json } from '@sveltejs/kit';
import { healthOf } from '../../../server/health.ts';
import { services } from '../../../server/services.ts';
import type { RequestHandler } from './$types';

/** 200 where the server can do its work, 503 where it cannot. */
export const GET: RequestHandler = async () => {
	const health = await healthOf(await services());
	return json(health, { status: health.database === 'ok' ? 200 : 503, headers: { 'cache-control': 'no-store' } });
};
