import type { StudyCase } from '../core/study/cases.ts';
import type { CaseFigures } from '../formats/study.ts';

/** A recipe as a task carries it. Files come by path, so that none is copied from process to process. */
export interface TaskRecipe {
	/** What a worker keeps its pipeline under, so that the next task of the same project refills only what changed. */
	project: string;
	text: string;
	/** Files beside the recipe by their names: where their content lies, and its hash. */
	files: Record<string, { path: string; hash: string }>;
	/** Values that replace those of `let` statements, as expressions. */
	settings?: Record<string, string>;
}

/** What came of a case of a study. */
export interface CaseOutcome {
	ok: boolean;
	message: string;
	figures: CaseFigures | null;
	/** A small picture of the mesh, as SVG; empty without one. */
	picture: string;
}

/** What a worker does, by the name of the task: what it takes, and what it gives. */
export interface Tasks {
	/** A picture of the mesh, as SVG. */
	picture(recipe: TaskRecipe): Promise<string>;
	/** The figures of the report, as JSON. */
	figures(recipe: TaskRecipe): Promise<string>;
	/**
	 * A delivery in a format, or `all` that the recipe asks for, written to a path. Gives its bytes, and what could not be made of
	 * several.
	 */
	deliver(
		recipe: TaskRecipe,
		wanted: { format: string; options?: Record<string, unknown> },
		path: string
	): Promise<{ size: number; problems: string[] }>;
	/** The cases of a study. */
	cases(recipe: TaskRecipe, study: string): Promise<{ title: string; cases: StudyCase[] }>;
	/** One case of a study; what is wrong with it is part of what it gives. */
	runCase(recipe: TaskRecipe, one: Pick<StudyCase, 'settings' | 'refine'>): Promise<CaseOutcome>;
	/** The table and the page of a study, packed, from a file that holds the records one to a line. Gives the bytes written. */
	table(manifest: { title: string; study: string; cases: StudyCase[] }, records: string, path: string): Promise<number>;
}

export type TaskName = keyof Tasks;

/** How long each task may take from when it begins, in milliseconds. */
export const longest: Record<TaskName, number> = {
	picture: 20_000,
	figures: 120_000,
	deliver: 1_200_000,
	cases: 120_000,
	runCase: 1_200_000,
	table: 120_000
};

/** What a worker emits, beside how far it is, when the program failed inside it: its process is replaced. */
export const spoilt = 'spoilt';
