import { codeOf } from '../platform/system-error.ts';
import * as v from 'valibot';
import type { Problem } from '../api/schemas.ts';
import { log, requestId } from './log.ts';
import { isUserError } from '../core/text/user-error.ts';
import { shortened } from '../core/text/shortened.ts';
import { StoppedError } from './stopped.ts';
import { withoutControlSigns } from '../core/text/control-signs.ts';

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
			...(requestId() === undefined ? {} : { request: requestId() }),
			...this.extra
		};
		return new Response(JSON.stringify(body), { status: this.status, headers: { 'content-type': 'application/problem+json' } });
	}
}

/** Whether the framework ended a body that is too large, whether its length was said or not. */
const isTooLarge = (error: unknown): boolean => (error as { status?: unknown } | undefined)?.status === 413;

const tooLarge = () => new ProblemError(413, 'Too large', 'the body is larger than the server takes');

export const notFound = (what: string) =>
	new ProblemError(404, 'Not found', shortened(`there is no ${withoutControlSigns(what)}`));

/** Runs a request handler and answers refusals as problem details. */
export async function answering(run: () => Promise<Response>): Promise<Response> {
	try {
		return await run();
	} catch (error) {
		if (error instanceof ProblemError) return error.toResponse();
		if (isTooLarge(error)) return tooLarge().toResponse();
		// Whoever asked has gone, or stopped it: nothing is wrong with the server.
		if (error instanceof StoppedError)
			return new ProblemError(409, 'Stopped', 'this was stopped before it was done').toResponse();
		const trouble = storageTrouble(error);
		if (trouble) return trouble.toResponse();
		// What a task could not do: the recipe is to be mended, and the server is well.
		if (isUserError(error)) return new ProblemError(422, 'Not possible', error.message).toResponse();
		log.error(error);
		return new ProblemError(500, 'Server error', 'something went wrong on the server; nothing was changed').toResponse();
	}
}

/** What a refusal of the database means to whoever asked; undefined for other errors. */
export function storageTrouble(error: unknown): ProblemError | undefined {
	const code = codeOf(error);
	if (code === 'SQLITE_FULL' || code === 'ENOSPC' || code === 'EDQUOT')
		return new ProblemError(507, 'Disk full', 'the disk of the server is full, so nothing was stored; make room and try again');
	if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED'))
		return new ProblemError(
			503,
			'Database locked',
			'another program holds the database; nothing was stored, try again in a moment'
		);
	if (code.startsWith('SQLITE_READONLY') || code === 'EROFS' || code === 'EACCES')
		return new ProblemError(507, 'Read-only', 'the data folder of the server cannot be written, so nothing was stored');
	if (code.startsWith('SQLITE_CORRUPT') || code.startsWith('SQLITE_NOTADB'))
		return new ProblemError(
			500,
			'Database damaged',
			'the database of the server is damaged; nothing was stored. Whoever runs the server gets out what can be read with “tessellon backup --rescue COPY”'
		);
	if (code.startsWith('SQLITE_IOERR') || code === 'EIO')
		return new ProblemError(507, 'Disk trouble', 'the disk of the server cannot be read or written; nothing was stored');
	return undefined;
}

/** Reads a JSON body that must match a schema. */
export async function readBody<S extends v.GenericSchema>(request: Request, schema: S): Promise<v.InferOutput<S>> {
	let body: unknown;
	try {
		// Text that is not UTF-8 is refused, not replaced: what is stored is what was sent.
		body = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(await request.arrayBuffer()));
	} catch (error) {
		if (isTooLarge(error)) throw tooLarge();
		const isText = error instanceof SyntaxError;
		throw new ProblemError(400, 'Bad request', isText ? 'the body is not JSON' : 'the body is not text in UTF-8');
	}
	if (Array.isArray(body)) throw new ProblemError(400, 'Bad request', 'the body is a list; one object is wanted');
	const parsed = v.safeParse(schema, body);
	if (parsed.success) return parsed.output;
	throw new ProblemError(400, 'Bad request', shortened(whyNot(parsed.issues[0])));
}

/** What is wrong with a part of a body, in words: what the schema says itself, or what kind of value is wanted there. */
function whyNot(issue: v.BaseIssue<unknown>): string {
	const path = v.getDotPath(issue);
	const where = path === null ? 'the body' : `“${path}”`;
	if (issue.input === undefined) return `${where} is missing`;
	const kinds: Record<string, string> = {
		string: 'a text',
		number: 'a number',
		boolean: 'true or false',
		array: 'a list',
		object: 'an object',
		strict_object: 'an object',
		record: 'an object'
	};
	const kind = kinds[issue.type];
	if (issue.kind === 'schema') return `${where} must be ${kind ?? `one of ${(issue.expected ?? '').replaceAll(' | ', ', ')}`}`;
	// Our own sentences begin with a small letter; those of the schema's makers say `Invalid`.
	return /^Invalid/.test(issue.message) ? `${where} ${rule(issue)}` : `${where}: ${issue.message}`;
}

/** A rule of a schema, in words. */
function rule({ type, requirement }: v.BaseIssue<unknown> & { requirement?: unknown }): string {
	const bound = String(requirement);
	const rules: Record<string, string> = {
		max_length: `has more than ${bound} characters or items`,
		min_length: `has fewer than ${bound} characters or items`,
		min_value: `must be at least ${bound}`,
		max_value: `must be at most ${bound}`,
		integer: 'must be a whole number'
	};
	return rules[type] ?? 'has a wrong form';
}
