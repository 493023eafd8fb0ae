import type { Job } from '../api/schemas.ts';
import type { JobState } from '../platform/database/database.ts';

/** What of a row of the table of jobs is shown. */
interface JobRow {
	id: string;
	kind: 'delivery' | 'study';
	project_id: string;
	file_name: string;
	state: JobState;
	message: string | null;
	created_at: string;
	expires_at: string | null;
}

/** A job that has ended, or that waits for its server, as the API shows it: one that waits is running to whoever asked for it. */
export const jobOfRow = ({ id, kind, project_id, file_name, state, message, created_at, expires_at }: JobRow): Job => ({
	id,
	kind,
	project: project_id,
	name: file_name,
	state: state === 'queued' ? 'running' : state,
	progress: state === 'done' ? 1 : 0,
	...(message === null ? {} : { message }),
	createdAt: created_at,
	...(expires_at === null ? {} : { expiresAt: expires_at })
});
