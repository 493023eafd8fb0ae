import * as v from 'valibot';
import { recipeLimit } from '../core/recipe/language/limits.ts';
import { controlSign } from '../core/text/control-signs.ts';

/** The HTTP contract: what the server takes and gives, shared by server, browser and OpenAPI document. */

/** Text that is stored as it was sent: half of a surrogate pair would become another sign. */
const wellFormed = v.check(
	(text: string) => !/\p{Surrogate}/u.test(text),
	'the text holds half of a surrogate pair, which is no sign'
);
const plain = v.check((text: string) => controlSign(text) === undefined, 'it holds control signs');
const name = v.pipe(
	v.string(),
	v.minLength(1, 'a file name has at least one sign'),
	v.maxLength(200, 'a file name has at most 200 signs'),
	v.regex(/^[^/\\]+$/, 'a file name has no slashes'),
	wellFormed,
	plain
);
const hash = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'a hash is 64 hexadecimal digits'));
const recipeText = v.pipe(
	v.string(),
	v.maxLength(recipeLimit, `a recipe has at most ${recipeLimit} characters; keep long coordinate lists in files`),
	wellFormed,
	v.check((text) => !text.includes('\0'), 'a recipe is text and holds no zero bytes')
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
	label: v.pipe(v.string(), v.maxLength(200), wellFormed, plain),
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
	kind: v.picklist(['delivery', 'study']),
	/** The project that it is for. */
	project: v.string(),
	/** The name of its file. */
	name: v.string(),
	state: v.picklist(['running', 'done', 'failed', 'stopped']),
	progress: v.number(),
	/** How many jobs that were asked for before it still wait; absent once it is at work. */
	ahead: v.optional(v.number()),
	/** Why it failed; of several deliveries, which could not be made. */
	message: v.optional(v.string()),
	createdAt: v.string(),
	/** Until when its file is kept, once it is done. */
	expiresAt: v.optional(v.string())
});

/** What came of one case of a study. */
export const StudyResult = v.object({
	/** Values of parameters, as a recipe writes them. */
	settings: v.record(v.string(), v.pipe(v.string(), v.maxLength(1000))),
	/** Into how many every edge is divided. */
	refine: v.pipe(v.number(), v.integer(), v.minValue(1)),
	ok: v.boolean(),
	/** Why it failed. */
	message: v.pipe(v.string(), v.maxLength(10_000)),
	/** Counts, areas, quality by name; null where there is no mesh. */
	figures: v.nullable(v.record(v.string(), v.nullable(v.number()))),
	/** A small picture of the mesh, as SVG; empty without one. */
	picture: v.pipe(v.string(), v.maxLength(200_000))
});

export const NewStudyResults = v.object({
	/** The revision whose recipe was run. */
	revision: v.pipe(v.number(), v.integer()),
	results: v.pipe(v.array(StudyResult), v.maxLength(2000))
});

/** What came of the cases of a study of the present recipe. */
export const StudyResults = v.object({ results: v.array(StudyResult) });

export const Health = v.object({
	version: v.string(),
	/** `ok`, or what is wrong with the database. */
	database: v.string(),
	jobs: v.object({ queued: v.number(), running: v.number() }),
	/** Bytes of files that wait to be fetched, and how many there may be. */
	outputs: v.object({ bytes: v.number(), quota: v.number() })
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
export type StudyResult = v.InferOutput<typeof StudyResult>;
export type Health = v.InferOutput<typeof Health>;
export type Problem = v.InferOutput<typeof Problem>;
