import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { addTo } from '../numeric/lists.ts';
import type { TextEdit } from '../text/edit.ts';
import type { Finding, Mend, Span } from '../text/finding.ts';
import { shortened } from '../text/shortened.ts';
import { sentenceOf } from '../text/user-error.ts';
import { type FactsOf, type FindingCode, findingRecord } from './table.ts';

/** More findings of one code than this become one finding with a count. */
export const mostSingle = 12;

/** What a finding has besides its sentence. */
export interface Details extends Pick<Finding, 'at' | 'pieces'> {
	/** The part of the statement at hand that is meant, by offsets from the statement's start; all of it otherwise. */
	within?: Span | undefined;
	/** Edits that settle it, under the words of the record, or under others. */
	mend?: TextEdit[] | Finding['mend'];
	/** Others that would settle it. */
	otherMends?: Mend[];
	/** Edits by offsets in the statement at hand, the likeliest first. */
	mends?: readonly Mend[] | undefined;
}

/**
 * Where findings are gathered. A report knows the statement at hand and its place in the text, so that a caller states facts
 * alone; the words of every code stand in `findings/`.
 */
export class Report {
	/**
	 * @param lines the places of the recipe's statements
	 * @param findings all findings in order; reports about single statements share the list
	 */
	constructor(
		private readonly lines: readonly Span[] = [],
		readonly findings: Finding[] = [],
		private readonly statement?: Span,
		/** The statement that was at hand last, shared by all reports of a run. */
		private readonly latest: { statement?: Span | undefined } = {}
	) {}

	/** The same report about one statement, by its index; about none with −1. */
	about(line: number): Report {
		this.latest.statement = this.lines[line];
		return new Report(this.lines, this.findings, this.lines[line], this.latest);
	}

	/** Adds a finding about the statement at hand. */
	add<Code extends FindingCode>(code: Code, facts: FactsOf<Code>, details?: Details): void {
		this.findings.push(this.finding(code, facts, details));
	}

	/** Adds that something failed inside, at the statement that was at hand last; `what` names the step. */
	failed(what: string, error: unknown): void {
		const { statement } = this.latest;
		new Report(this.lines, this.findings, statement).add('internal', { message: sentenceOf(error, what) });
	}

	/** Returns a finding about the statement at hand without adding it, for {@link addAll}. */
	finding<Code extends FindingCode>(
		code: Code,
		facts: FactsOf<Code>,
		{ within, at, pieces, mend, otherMends = [], mends = [] }: Details = {}
	): Finding {
		const { statement } = this;
		const { severity, says, mend: label = 'Mend it' } = findingRecord(code);
		const message = shortened(says(facts));
		const [first, ...others] = statement ? mends.map((m) => movedBy(m, statement.from)) : [];
		const span = statement && (within ? { from: statement.from + within.from, to: statement.from + within.to } : statement);
		const given = Array.isArray(mend) ? { label, edits: mend } : mend;
		const settles = first ?? given ?? (within && span && guessOf(message, span));
		return {
			severity,
			code,
			message,
			...(at ? { at } : {}),
			...(span ? { span: { from: span.from, to: span.to } } : {}),
			...(pieces ? { pieces } : {}),
			...(settles ? { mend: settles } : {}),
			...(others.length + otherMends.length > 0 ? { otherMends: [...others, ...otherMends] } : {})
		};
	}

	/** Adds a list of findings; those of a code with many become one with a count. */
	addAll(list: readonly Finding[]): void {
		const byCode = new Map<string, Finding[]>();
		for (const finding of list) addTo(byCode, finding.code, finding);
		for (const [code, same] of byCode) {
			const { many } = findingRecord(code as FindingCode);
			if (same.length <= mostSingle || !many) this.findings.push(...same);
			else
				this.findings.push({
					...same[0]!,
					message: many(same.length),
					pieces: [...new Set(same.flatMap((f) => f.pieces ?? []))]
				});
		}
	}
}

/** A sentence that asks whether another word is meant has a mend that writes it in the place of the one that stands there. */
function guessOf(message: string, { from, to }: Span): Mend | undefined {
	const [, meant] = /did you mean “([^”]+)”\?$/.exec(message) ?? [];
	return meant === undefined ? undefined : { label: `Write “${meant}”`, edits: [{ from, to, insert: meant }] };
}

/** A mend whose edits lie farther on in the text. */
const movedBy = ({ label, edits }: Mend, by: number): Mend => ({
	label,
	edits: edits.map(({ from, to, insert }) => ({ from: from + by, to: to + by, insert }))
});

keepHiddenClass(new Report());
