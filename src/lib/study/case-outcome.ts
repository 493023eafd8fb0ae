import type { CaseFigures } from '../../formats/study.ts';

/** What came of a case at the desk. */
export interface CaseOutcome {
	ok: boolean;
	message: string;
	figures: CaseFigures | null;
	/** A small picture of the mesh, as SVG; empty where there is none. */
	picture: string;
	/** How long it took; absent where it was run before this page was opened. */
	milliseconds?: number;
}
