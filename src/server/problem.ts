import * as v from 'valibot';
import type { Problem } from '../api/schemas.ts';

/** A refusal that the server answers with RFC 9457 problem details. */
export class ProblemError extends Error {
	constructor(
		readonly status: number,
		readonly title: string,
		readonly detail: string,
		/** More members for the body, like the current state after a 412. */
		readonly extra: Record<string, unknown> = {}
	) {
		super(detail);
	}

	toResponse(): Response {
		const body: Problem & Record<string, unknown> = {
			type: 'about:blank',
			title: this.title,
			status: this.status,
			detail: this.detail,
			...this.extra
		};
		return new Response(JSON.stringify(body), { status: this.status, headers: { 'content-type': 'application/problem+json' } });
	}
}

export const notFound = (what: string) => new ProblemError(404, 'Not found', `there is no ${what}`);

/** Runs a request handler and answers refusals as problem details. */
export async function answering(run: () => Promise<Response>): Promise<Response> {
	try {
		return await run();
	} catch (error) {
		if (error instanceof ProblemError) return error.toResponse();
		console.error(error);
		return new ProblemError(500, 'Server error', 'something went wrong on the server; nothing was changed').toResponse();
	}
}

/** Reads a JSON body that must match a schema. */
export async function readBody<S extends v.GenericSchema>(request: Request, schema: S): Promise<v.InferOutput<S>> {
	let body: unknown;
	try {
		body = await request.json();
	} catch {
		throw new ProblemError(400, 'Bad request', 'the body is not JSON');
	}
	const parsed = v.safeParse(schema, body);
	if (parsed.success) return parsed.output;
	const issue = parsed.issues[0];
	const path = v.getDotPath(issue);
	throw new ProblemError(400, 'Bad request', `${path ? `${path}: ` : ''}${issue.message}`);
}
