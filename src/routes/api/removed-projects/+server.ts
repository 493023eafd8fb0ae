import { json } from '@sveltejs/kit';
import { answering } from '../../../server/problem.ts';
import { services } from '../../../server/services.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => answering(async () => json(await (await services()).projects.removed()));
