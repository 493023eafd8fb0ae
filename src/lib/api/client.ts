import type {
	FileTable,
	NewRevision,
	Problem,
	Project,
	ProjectSummary,
	Revision,
	StoredFile,
	StudyResult
} from '../../api/schemas.ts';
import { UserError } from '../../core/text/user-error.ts';

/** The server refused; `message` is its sentence. */
export class ServerRefusal extends UserError {
	constructor(
		readonly status: number,
		message: string,
		/** After a 412: the project as it is on the server. */
		readonly current?: Project
	) {
		super(message);
	}
}

/** The answer of the server; throws a {@link UserError} where there is none. */
async function answered(path: string, init?: RequestInit): Promise<Response> {
	try {
		return await fetch(path, init);
	} catch (error) {
		throw new UserError('the server does not answer; is it running, and is this machine connected?', { cause: error });
	}
}

async function call<T>(method: string, path: string, body?: unknown, etag?: string): Promise<T> {
	const headers: Record<string, string> = {};
	if (etag) headers['if-match'] = etag;
	// Without a content type the server takes the body for empty.
	if (body !== undefined) headers['content-type'] = body instanceof Uint8Array ? 'application/octet-stream' : 'application/json';
	const payload = body === undefined ? undefined : body instanceof Uint8Array ? new Uint8Array(body) : JSON.stringify(body);
	const response = await answered(path, { method, headers, ...(payload === undefined ? {} : { body: payload }) });
	if (response.status === 204) return undefined as T;
	const answer = await response.json().catch(() => ({}));
	if (response.ok) return answer as T;
	const problem = answer as Partial<Problem> & { current?: Project };
	throw new ServerRefusal(response.status, problem.detail ?? `the server answered ${response.status}`, problem.current);
}

const project = (id: string) => `/api/projects/${encodeURIComponent(id)}`;

export const listProjects = () => call<ProjectSummary[]>('GET', '/api/projects');
export const createProject = (text?: string, files?: FileTable) =>
	call<Project>('POST', '/api/projects', { ...(text === undefined ? {} : { text }), ...(files ? { files } : {}) });
export const getProject = (id: string) => call<Project>('GET', project(id));
export const removeProject = (id: string, etag: string) => call<void>('DELETE', project(id), undefined, etag);
export const removedProjects = () => call<ProjectSummary[]>('GET', '/api/removed-projects');
export const bringBackProject = (id: string) => call<Project>('POST', `/api/removed-projects/${encodeURIComponent(id)}/restore`);
export const addRevision = (id: string, etag: string, revision: NewRevision) =>
	call<Project>('POST', `${project(id)}/revisions`, revision, etag);
export const undo = (id: string, etag: string) => call<Project>('POST', `${project(id)}/undo`, undefined, etag);
export const redo = (id: string, etag: string) => call<Project>('POST', `${project(id)}/redo`, undefined, etag);
export const history = (id: string) => call<Revision[]>('GET', `${project(id)}/revisions`);
export const restore = (id: string, etag: string, number: number) =>
	call<Project>('POST', `${project(id)}/revisions/${number}/restore`, undefined, etag);
export const getStudyResults = (id: string, study: string) =>
	call<{ results: StudyResult[] }>('GET', `${project(id)}/studies/${encodeURIComponent(study)}/results`);
export const keepStudyResults = (id: string, study: string, revision: number, results: StudyResult[]) =>
	call<void>('POST', `${project(id)}/studies/${encodeURIComponent(study)}/results`, { revision, results });
export const logOut = () => call<void>('DELETE', '/api/session');
export const storeFile = (content: Uint8Array) => call<StoredFile>('POST', '/api/files', content);

export async function fetchFile(hash: string): Promise<Uint8Array> {
	const response = await answered(`/api/files/${hash}`);
	if (!response.ok) throw new ServerRefusal(response.status, 'a coordinate file could not be loaded');
	return new Uint8Array(await response.arrayBuffer());
}

/** Passes on the ETag of a project now and after every change; returns what ends that. */
export function followProject(id: string, listener: (etag: string) => void): () => void {
	const events = new EventSource(`${project(id)}/events`);
	events.onmessage = ({ data }: MessageEvent<string>) => listener((JSON.parse(data) as { etag: string }).etag);
	return () => events.close();
}
