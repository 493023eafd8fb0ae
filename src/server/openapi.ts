import { toJsonSchema } from '@valibot/to-json-schema';
import type { GenericSchema } from 'valibot';
import * as schemas from '../api/schemas.ts';

interface Operation {
	method: 'get' | 'post' | 'delete';
	path: string;
	summary: string;
	/** Schema of the JSON body. */
	body?: GenericSchema;
	/** The body is the bytes of a file. */
	bytes?: true;
	/** The change needs `If-Match`. */
	guarded?: true;
	status: number;
	answer?: GenericSchema;
	/** Media type of an answer that is not JSON. */
	media?: string;
}

/** Every operation of the API; a test holds the routes against this list. */
export const operations: readonly Operation[] = [
	{
		method: 'get',
		path: '/api/projects',
		summary: 'The projects, the last changed first',
		status: 200,
		answer: schemas.ProjectSummary
	},
	{
		method: 'post',
		path: '/api/projects',
		summary: 'Makes a project',
		body: schemas.NewProject,
		status: 201,
		answer: schemas.Project
	},
	{
		method: 'get',
		path: '/api/projects/{id}',
		summary: 'A project at its current revision',
		status: 200,
		answer: schemas.Project
	},
	{ method: 'delete', path: '/api/projects/{id}', summary: 'Takes a project off the list', guarded: true, status: 204 },
	{
		method: 'get',
		path: '/api/projects/{id}/revisions',
		summary: 'The history, newest first',
		status: 200,
		answer: schemas.Revision
	},
	{
		method: 'post',
		path: '/api/projects/{id}/revisions',
		summary: 'Adds a revision',
		body: schemas.NewRevision,
		guarded: true,
		status: 201,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/revisions/{number}/restore',
		summary: 'Makes an older revision current',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/undo',
		summary: 'Goes back one revision',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/redo',
		summary: 'Goes forward again',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{ method: 'get', path: '/api/projects/{id}/picture', summary: 'A picture of the mesh', status: 200, media: 'image/svg+xml' },
	{
		method: 'get',
		path: '/api/projects/{id}/report',
		summary: 'The figures that `tessellon check --json` prints',
		status: 200,
		media: 'application/json'
	},
	{
		method: 'post',
		path: '/api/projects/{id}/deliveries',
		summary: 'Starts a delivery',
		body: schemas.NewDelivery,
		status: 202,
		answer: schemas.Job
	},
	{ method: 'get', path: '/api/jobs/{id}', summary: 'How far a job is', status: 200, answer: schemas.Job },
	{ method: 'delete', path: '/api/jobs/{id}', summary: 'Stops a job', status: 200, answer: schemas.Job },
	{
		method: 'get',
		path: '/api/jobs/{id}/events',
		summary: 'The job after every change, as server-sent events',
		status: 200,
		media: 'text/event-stream'
	},
	{
		method: 'get',
		path: '/api/jobs/{id}/file',
		summary: 'The file that a delivery made',
		status: 200,
		media: 'application/octet-stream'
	},
	{
		method: 'post',
		path: '/api/files',
		summary: 'Stores a coordinate file',
		bytes: true,
		status: 201,
		answer: schemas.StoredFile
	},
	{
		method: 'get',
		path: '/api/files/{hash}',
		summary: 'A stored coordinate file',
		status: 200,
		media: 'application/octet-stream'
	},
	{ method: 'get', path: '/api/openapi.json', summary: 'This document', status: 200, media: 'application/json' }
];

/** Operations whose answer is a list of what `answer` describes. */
const lists = new Set(['/api/projects', '/api/projects/{id}/revisions']);

/** The OpenAPI 3.1 description of the API. */
export function openApiDocument(): Record<string, unknown> {
	const paths: Record<string, Record<string, unknown>> = {};
	for (const operation of operations) (paths[operation.path] ??= {})[operation.method] = describe(operation);
	return {
		openapi: '3.1.0',
		info: {
			title: 'Tessellon',
			version: '1',
			description:
				'Recipes of 2D simulation meshes. Errors are RFC 9457 problem details. A change carries the ETag of what it changes in `If-Match`; an old one gets 412, with the current project in the body.'
		},
		paths,
		components: { schemas: { Problem: toJsonSchema(schemas.Problem) } }
	};
}

function describe({ method, path, summary, body, bytes, guarded, status, answer, media }: Operation): Record<string, unknown> {
	const names = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
	const parameters = [
		...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
		...(guarded ? [{ name: 'If-Match', in: 'header', required: true, schema: { type: 'string' } }] : [])
	];
	const schema = answer && toJsonSchema(answer, { errorMode: 'ignore' });
	const listed = method === 'get' && lists.has(path) ? { type: 'array', items: schema } : schema;
	const content = media ? { [media]: {} } : schema ? { 'application/json': { schema: listed } } : undefined;
	const requestBody = bytes
		? { required: true, content: { 'application/octet-stream': {} } }
		: body && { required: true, content: { 'application/json': { schema: toJsonSchema(body, { errorMode: 'ignore' }) } } };
	return {
		summary,
		...(parameters.length > 0 ? { parameters } : {}),
		...(requestBody ? { requestBody } : {}),
		responses: {
			[status]: { description: summary, ...(content ? { content } : {}) },
			default: {
				description: 'Refused',
				content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } }
			}
		}
	};
}
