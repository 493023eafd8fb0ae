import type { FileTable, StudyResult } from '../api/schemas.ts';
import type { StudyCase } from '../core/study/cases.ts';
import { caseHash, groundOf } from '../platform/case-hash.ts';
import type { Database } from '../platform/database/database.ts';
import { leastRecent } from './least-recent.ts';
import type { CaseOutcome } from './tasks.ts';

/** A picture that takes more characters than this is not kept: it is drawn again where it is wanted. */
const longestPicture = 150_000;

/** Recipes of which the hash of what all cases depend on is kept. */
const groundsKept = 16;

/** A recipe with its files, by the hash of their content. */
interface RecipeText {
	text: string;
	files: FileTable;
}

/**
 * What came of cases of studies, kept with their project: it outlives the dialog, the page and the server. A result is known by
 * the hash of all that its case depends on, so that it holds only for the very same recipe, values and files.
 */
export class StudyResults {
	private readonly grounds = leastRecent<string>(groundsKept);

	constructor(private readonly database: Database) {}

	/** The hash of what all cases of a recipe depend on. */
	groundOf({ text, files }: RecipeText): string {
		const key = JSON.stringify([text, files]);
		const ground = this.grounds.get(key) ?? groundOf(text, (name) => files[name]);
		this.grounds.set(key, ground);
		return ground;
	}

	/** Keeps what came of cases; what came of an older recipe of the study goes. */
	async put(
		project: string,
		study: string,
		ground: string,
		results: readonly ({ case: Pick<StudyCase, 'settings' | 'refine'> } & CaseOutcome)[]
	): Promise<void> {
		const created_at = new Date().toISOString();
		await this.database.transaction().execute(async (store) => {
			await store
				.deleteFrom('study_results')
				.where('project_id', '=', project)
				.where('study', '=', study)
				.where('ground', '!=', ground)
				.execute();
			for (const { case: one, picture, ...outcome } of results)
				await store
					.insertInto('study_results')
					.values({
						project_id: project,
						study,
						ground,
						hash: caseHash(ground, one, false),
						settings: JSON.stringify(one.settings),
						refine: one.refine,
						outcome: JSON.stringify(outcome),
						picture: picture.length > longestPicture ? '' : picture,
						created_at
					})
					.onConflict((c) => c.doNothing())
					.execute();
		});
	}

	/** What came of the cases of a study of a recipe. */
	async of(project: string, study: string, ground: string): Promise<StudyResult[]> {
		const rows = await this.database
			.selectFrom('study_results')
			.where('project_id', '=', project)
			.where('study', '=', study)
			.where('ground', '=', ground)
			.select(['settings', 'refine', 'outcome', 'picture'])
			.execute();
		return rows.map(({ settings, refine, outcome, picture }): StudyResult => ({
			settings: JSON.parse(settings) as Record<string, string>,
			refine,
			...(JSON.parse(outcome) as Omit<CaseOutcome, 'picture'>),
			picture
		}));
	}
}
