import { language } from '../../core/recipe/language/language.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { TextEdit } from '../../core/text/edit.ts';

/**
 * Pieces are counted along their curves, so an edit of the drawing may shift what `wall[2]` names elsewhere. This keeps
 * the names of the text before while edits follow one another, and hands each edit on with what it needs besides.
 */
export class Naming {
	/** The text whose names are to be kept, while an edit waits for them. */
	private before: string | undefined;
	private settled: Promise<void> = Promise.resolve();

	/**
	 * @param find the edits after which the pieces of one text are named as in another
	 * @param done takes the edits that belong to a text; nothing is called for a text that was overtaken
	 */
	constructor(
		private readonly find: (before: string, after: string) => Promise<TextEdit[]>,
		private readonly done: (text: string, edits: TextEdit[], label: string) => void
	) {}

	/** Whether an edit waits for its names. */
	get waits(): boolean {
		return this.before !== undefined;
	}

	/** Settles when no edit waits any more. */
	get finished(): Promise<void> {
		return this.settled;
	}

	/** An edit from one text to another; a newer one takes over from one that still waits. */
	edit(from: string, to: string, label: string): void {
		const before = this.before ?? from;
		if (!numbersPieces(before) || drawingOf(before) === drawingOf(to)) {
			this.before = undefined;
			this.done(to, [], label);
			return;
		}
		this.before = before;
		this.settled = this.find(before, to)
			.catch((): TextEdit[] => [])
			.then((edits) => {
				if (this.before !== before || this.newest !== to) return;
				this.before = undefined;
				this.done(to, edits, label);
			});
		this.newest = to;
	}

	private newest: string | undefined;
}

/** Whether a text counts pieces anywhere, as in `wall[2]`. */
const numbersPieces = (text: string) => /\w\[\d+\]/.test(text);

/** The statements of a text that make the drawing, and what they are made from. */
function drawingOf(text: string): string {
	const { recordOf } = language();
	return parseRecipe(text)
		.lines.filter(({ statement }) => !statement || ['header', 'parameters', 'shape'].includes(recordOf(statement).stage))
		.map(({ from, to }) => text.slice(from, to))
		.join('\n');
}
