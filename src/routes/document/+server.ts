import { redirect } from '@sveltejs/kit';
import { notFound } from '../../server/problem.ts';
import { services } from '../../server/services.ts';
import type { RequestHandler } from './$types';

/** Leads to the project of the recipe file that the server was started for. */
export const GET: RequestHandler = async () => {
	const { document } = await services();
	if (!document) return notFound('document: this server was started for no recipe file').toResponse();
	redirect(303, `/projects/${document.project}`);
};
