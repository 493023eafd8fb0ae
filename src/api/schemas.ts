import * as v from 'valibot';

/** The HTTP contract: what the server takes and gives, shared by server, browser and OpenAPI document. */

/** Longest recipe that the server keeps, in UTF-16 code units. */
export const recipeLimit = 5_000_000;

const name = v.pipe(v.string(), v.minLength(1), v.maxLength(200), v.regex(/^[^/\\\0]+$/, 'a file name has no slashes'));
const hash = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'a hash is 64 hexadecimal digits'));
const recipeText = v.pipe(
	v.string(),
	v.maxLength(recipeLimit, `a recipe has at most ${recipeLimit} characters; keep long coordinate lists in files`)
);

/** Coordinate files of a revision: content hash by file name. */
export const FileTable = v.record(name, hash);

export const NewProject = v.object({
	text: v.optional(recipeText),
	files: v.optional(FileTable)
});

export const NewRevision = v.object({
	text: recipeText,
	files: FileTable,
	/** What was done, for the history. */
	label: v.pipe(v.string(), v.maxLength(200)),
	/** It goes on with what the revision before left half done: one undo takes back both. */
	goesOn: v.optional(v.boolean())
});

export const Project = v.object({
	id: v.string(),
	title: v.string(),
	/** Number of the current revision. */
	revision: v.number(),
	/** Send it back in `If-Match` with a change. */
	etag: v.string(),
	text: v.string(),
	files: FileTable,
	canUndo: v.boolean(),
	canRedo: v.boolean(),
	changedAt: v.string(),
	/** The name of the file on disk that is its document, where there is one. */
	document: v.optional(v.string())
});

export const ProjectSummary = v.object({
	id: v.string(),
	title: v.string(),
	revision: v.number(),
	/** Send it in `If-Match` to take the project off the list. */
	etag: v.string(),
	changedAt: v.string()
});

export const Revision = v.object({
	number: v.number(),
	label: v.string(),
	createdAt: v.string(),
	current: v.boolean()
});

export const StoredFile = v.object({ hash, size: v.number() });

export const NewDelivery = v.object({
	format: v.string(),
	/** Options of the format, by name. */
	options: v.optional(v.record(v.string(), v.union([v.string(), v.number(), v.boolean()]))),
	/** Values that replace those of `let` statements, as expressions. */
	settings: v.optional(v.record(v.string(), v.string()))
});

export const NewStudy = v.object({
	/** Which of the recipe's studies; the only one without. */
	name: v.optional(v.string())
});

export const Job = v.object({
	id: v.string(),
	state: v.picklist(['running', 'done', 'failed', 'stopped']),
	progress: v.number(),
	/** Why it failed. */
	message: v.optional(v.string())
});

/** An error as RFC 9457 problem details. */
export const Problem = v.object({
	type: v.string(),
	title: v.string(),
	status: v.number(),
	detail: v.string()
});

export type FileTable = v.InferOutput<typeof FileTable>;
export type Project = v.InferOutput<typeof Project>;
export type ProjectSummary = v.InferOutput<typeof ProjectSummary>;
export type NewRevision = v.InferOutput<typeof NewRevision>;
export type Revision = v.InferOutput<typeof Revision>;
export type StoredFile = v.InferOutput<typeof StoredFile>;
export type Job = v.InferOutput<typeof Job>;
export type Problem = v.InferOutput<typeof Problem>;
