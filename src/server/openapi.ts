import { toJsonSchema } from '@valibot/to-json-schema';
import type { GenericSchema } from 'valibot';
import * as schemas from '../api/schemas.ts';

interface Operation {
	method: 'get' | 'post' | 'delete';
	path: string;
	/** The name of the operation in generated clients. */
	id: string;
	tag: keyof typeof tags;
	summary: string;
	/** What one must know to use it. */
	description: string;
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

/** The groups of operations. */
const tags = {
	Projects: 'Recipes with their whole history. Nothing is overwritten: a change adds a revision.',
	Results: 'What comes of a recipe: figures, pictures, deliveries and studies.',
	Jobs: 'Long work, started by a delivery or a study: watched, stopped, and its file fetched.',
	Files: 'Files beside recipes: coordinates, drawings, meshes, templates. Each is kept once, by its hash.',
	Server: 'The server itself.',
	Document: 'This description.'
} as const;

/** Every operation of the API; a test holds the routes against this list. */
export const operations: readonly Operation[] = [
	{
		method: 'get',
		path: '/api/projects',
		id: 'listProjects',
		tag: 'Projects',
		summary: 'The projects, the last changed first',
		description: 'Each with its title, the number of its current revision, and the ETag of that.',
		status: 200,
		answer: schemas.ProjectSummary
	},
	{
		method: 'post',
		path: '/api/projects',
		id: 'createProject',
		tag: 'Projects',
		summary: 'Makes a project',
		description:
			'Of the text of a recipe, or an empty one without. Files that the recipe names are stored first and stand in `files` by their hash.',
		body: schemas.NewProject,
		status: 201,
		answer: schemas.Project
	},
	{
		method: 'get',
		path: '/api/projects/{id}',
		id: 'getProject',
		tag: 'Projects',
		summary: 'A project at its current revision',
		description: 'Its ETag goes into `If-Match` with a change.',
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'delete',
		path: '/api/projects/{id}',
		id: 'removeProject',
		tag: 'Projects',
		summary: 'Takes a project off the list',
		description: 'Its revisions stay in the database; its jobs are ended. For thirty days it can be brought back.',
		guarded: true,
		status: 204
	},
	{
		method: 'get',
		path: '/api/removed-projects',
		id: 'listRemovedProjects',
		tag: 'Projects',
		summary: 'The projects that were taken off the list in the last thirty days, the last removed first',
		description: 'Each as it was when it was taken off.',
		status: 200,
		answer: schemas.ProjectSummary
	},
	{
		method: 'post',
		path: '/api/removed-projects/{id}/restore',
		id: 'restoreProject',
		tag: 'Projects',
		summary: 'Puts a removed project back on the list',
		description: 'As it was, with all its revisions.',
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'get',
		path: '/api/projects/{id}/events',
		id: 'watchProject',
		tag: 'Projects',
		summary: 'The revision of a project after every change, as server-sent events',
		description:
			'For a project whose document is a file on disk (`tessellon desk`): `{revision, etag}` now and after every change, whoever makes it. For others now alone.',
		status: 200,
		media: 'text/event-stream'
	},
	{
		method: 'get',
		path: '/api/projects/{id}/revisions',
		id: 'listRevisions',
		tag: 'Projects',
		summary: 'The history, newest first',
		description: 'The last 500 revisions: what was done, and when.',
		status: 200,
		answer: schemas.Revision
	},
	{
		method: 'post',
		path: '/api/projects/{id}/revisions',
		id: 'addRevision',
		tag: 'Projects',
		summary: 'Adds a revision',
		description:
			'The whole text, the table of files, and a label for the history. With an old `If-Match` nothing is changed: the answer is 412 with the present project in its body.',
		body: schemas.NewRevision,
		guarded: true,
		status: 201,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/revisions/{number}/restore',
		id: 'restoreRevision',
		tag: 'Projects',
		summary: 'Makes an older revision current',
		description: 'As a new revision on top, so that it can be undone.',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/undo',
		id: 'undo',
		tag: 'Projects',
		summary: 'Goes back one revision',
		description: '409 at the first.',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'post',
		path: '/api/projects/{id}/redo',
		id: 'redo',
		tag: 'Projects',
		summary: 'Goes forward again',
		description: '409 where no undone revision follows.',
		guarded: true,
		status: 200,
		answer: schemas.Project
	},
	{
		method: 'get',
		path: '/api/projects/{id}/picture',
		id: 'getPicture',
		tag: 'Results',
		summary: 'A picture of the mesh',
		description: 'SVG; made when it is first asked for.',
		status: 200,
		media: 'image/svg+xml'
	},
	{
		method: 'get',
		path: '/api/projects/{id}/report',
		id: 'getReport',
		tag: 'Results',
		summary: 'The figures that `tessellon check --json` prints',
		description: 'Counts, regions, groups, walls, layers, quality and findings.',
		status: 200,
		media: 'application/json'
	},
	{
		method: 'post',
		path: '/api/projects/{id}/deliveries',
		id: 'startDelivery',
		tag: 'Results',
		summary: 'Starts a delivery',
		description:
			'A job whose file is the mesh in a format with its options, or `all` that the recipe asks for. `settings` replace the values of parameters.',
		body: schemas.NewDelivery,
		status: 202,
		answer: schemas.Job
	},
	{
		method: 'post',
		path: '/api/projects/{id}/studies',
		id: 'startStudy',
		tag: 'Results',
		summary: 'Starts a study',
		description:
			'A job that runs all cases of a study of the recipe; its file is a ZIP of `table.csv` with `datapackage.json`, `table.json` and `index.html`, byte for byte those of `tessellon study`. A case that fails fails alone, and one that has been run with the very same recipe is not run again.',
		body: schemas.NewStudy,
		status: 202,
		answer: schemas.Job
	},
	{
		method: 'get',
		path: '/api/projects/{id}/studies/{name}/results',
		id: 'getStudyResults',
		tag: 'Results',
		summary: 'What came of the cases of a study',
		description: 'Of the present recipe, with its values and files: what came of another is not here.',
		status: 200,
		answer: schemas.StudyResults
	},
	{
		method: 'post',
		path: '/api/projects/{id}/studies/{name}/results',
		id: 'keepStudyResults',
		tag: 'Results',
		summary: 'Keeps what came of cases that were run in another place',
		description:
			'As the desk does, which runs cases in the browser. They are kept with the project, for the revision that was run.',
		body: schemas.NewStudyResults,
		status: 204
	},
	{
		method: 'get',
		path: '/api/jobs',
		id: 'listJobs',
		tag: 'Jobs',
		summary: 'The jobs, the newest first',
		description: 'The last 200, whether they wait, are at work or have ended.',
		status: 200,
		answer: schemas.Job
	},
	{
		method: 'get',
		path: '/api/jobs/{id}',
		id: 'getJob',
		tag: 'Jobs',
		summary: 'How far a job is',
		description:
			'Its state, its progress from 0 to 1, how many wait before it, and why it failed. Jobs outlive the server: after a restart they run again, or say why not.',
		status: 200,
		answer: schemas.Job
	},
	{
		method: 'delete',
		path: '/api/jobs/{id}',
		id: 'stopJob',
		tag: 'Jobs',
		summary: 'Stops a job',
		description: 'At once; one that is done stays so.',
		status: 200,
		answer: schemas.Job
	},
	{
		method: 'get',
		path: '/api/jobs/{id}/events',
		id: 'watchJob',
		tag: 'Jobs',
		summary: 'The job after every change, as server-sent events',
		description: 'Each event is the job as JSON; the stream ends with the job. A comment comes every 15 seconds.',
		status: 200,
		media: 'text/event-stream'
	},
	{
		method: 'get',
		path: '/api/jobs/{id}/file',
		id: 'getJobFile',
		tag: 'Jobs',
		summary: 'The file that a job made',
		description:
			'409 until it is there. It is kept for an hour, and may go sooner only when it has been fetched and room is wanted; then the answer is 410.',
		status: 200,
		media: 'application/octet-stream'
	},
	{
		method: 'post',
		path: '/api/files',
		id: 'storeFile',
		tag: 'Files',
		summary: 'Stores a file that recipes read',
		description: 'The bytes as they are; the answer has their SHA-256, by which recipes have them.',
		bytes: true,
		status: 201,
		answer: schemas.StoredFile
	},
	{
		method: 'get',
		path: '/api/files/{hash}',
		id: 'getFile',
		tag: 'Files',
		summary: 'A stored file',
		description: 'The bytes as they were sent.',
		status: 200,
		media: 'application/octet-stream'
	},
	{
		method: 'get',
		path: '/api/health',
		id: 'getHealth',
		tag: 'Server',
		summary: 'How the server is',
		description: 'Its version, its database, its jobs, and the files that wait to be fetched. 503 where it cannot do its work.',
		status: 200,
		answer: schemas.Health
	},
	{
		method: 'delete',
		path: '/api/session',
		id: 'logOut',
		tag: 'Server',
		summary: 'Logs a browser out',
		description: 'Of a server with a token: its cookie goes.',
		status: 204
	},
	{
		method: 'get',
		path: '/api/openapi.json',
		id: 'getOpenApi',
		tag: 'Document',
		summary: 'This document',
		description: 'OpenAPI 3.1.',
		status: 200,
		media: 'application/json'
	}
];

/** Operations whose answer is a list of what `answer` describes. */
const lists = new Set(['/api/projects', '/api/removed-projects', '/api/projects/{id}/revisions', '/api/jobs']);

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
		tags: Object.entries(tags).map(([name, description]) => ({ name, description })),
		paths,
		components: { schemas: { Problem: toJsonSchema(schemas.Problem) } }
	};
}

/** What stands in a path. */
const parameterDocs: Record<string, string> = {
	id: 'The id of the project or job',
	number: 'The number of the revision',
	hash: 'The SHA-256 of the file, in hexadecimal digits',
	name: 'The name of the study'
};

function describe({
	method,
	path,
	id,
	tag,
	summary,
	description,
	body,
	bytes,
	guarded,
	status,
	answer,
	media
}: Operation): Record<string, unknown> {
	const names = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
	const parameters = [
		...names.map((name) => ({ name, in: 'path', required: true, description: parameterDocs[name!], schema: { type: 'string' } })),
		...(guarded
			? [
					{
						name: 'If-Match',
						in: 'header',
						required: true,
						description: 'The ETag of what is changed',
						schema: { type: 'string' }
					}
				]
			: [])
	];
	const schema = answer && toJsonSchema(answer, { errorMode: 'ignore' });
	const listed = method === 'get' && lists.has(path) ? { type: 'array', items: schema } : schema;
	const content = media ? { [media]: {} } : schema ? { 'application/json': { schema: listed } } : undefined;
	const requestBody = bytes
		? { required: true, content: { 'application/octet-stream': {} } }
		: body && { required: true, content: { 'application/json': { schema: toJsonSchema(body, { errorMode: 'ignore' }) } } };
	return {
		operationId: id,
		tags: [tag],
		summary,
		description,
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
