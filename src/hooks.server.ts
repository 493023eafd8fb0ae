import type { ServerInit } from '@sveltejs/kit';
import { services } from './server/services.ts';

/** Opens the database and puts in the demo before the first request. */
export const init: ServerInit = async () => {
	await services();
};
