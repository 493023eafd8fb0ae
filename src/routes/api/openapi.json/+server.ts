import { json } from '@sveltejs/kit';
import { openApiDocument } from '../../../server/openapi.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => json(openApiDocument());
