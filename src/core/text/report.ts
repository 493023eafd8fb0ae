import { keepHiddenClass } from '../numeric/hidden-class.ts';
import type { Finding, Severity, Span } from './finding.ts';
import { shortened } from './shortened.ts';
import { sentenceOf } from './user-error.ts';

/** More findings of one kind than this are told in one. */
const toldSingly = 12;

/** What a finding says besides its sentence. */
export interface Details extends Pick<Finding, 'at' | 'pieces' | 'mend'> {
	/** The part of the statement at hand that is meant, by offsets from the statement's start; all of it otherwise. */
	within?: Span;
}

/**
 * Where findings are gathered. A report knows the statement at hand and its place in the text, so that whoever
 * reports says only what is wrong.
 */
export class Report {
	/**
	 * @param lines the places of the recipe's statements
	 * @param findings what is told, in order; reports about single statements share it
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

	error(code: string, message: string, details?: Details): void {
		this.findings.push(this.finding('error', code, message, details));
	}

	warning(code: string, message: string, details?: Details): void {
		this.findings.push(this.finding('warning', code, message, details));
	}

	note(code: string, message: string, details?: Details): void {
		this.findings.push(this.finding('note', code, message, details));
	}

	/** Something failed inside, at the statement that was at hand last; `what` says what is missing now. */
	failed(what: string, error: unknown): void {
		const { statement } = this.latest;
		this.findings.push(new Report(this.lines, [], statement).finding('error', 'internal', sentenceOf(error, what)));
	}

	/** A finding about the statement at hand that is not told yet, for lists that are told together. */
	finding(severity: Severity, code: string, message: string, { within, at, pieces, mend }: Details = {}): Finding {
		const { statement } = this;
		const span = statement && (within ? { from: statement.from + within.from, to: statement.from + within.to } : statement);
		return {
			severity,
			code,
			message: shortened(message),
			...(at ? { at } : {}),
			...(span ? { span: { from: span.from, to: span.to } } : {}),
			...(pieces ? { pieces } : {}),
			...(mend ? { mend } : {})
		};
	}

	/** Tells a list of findings of one kind, or the first of them with a count where there are many. */
	reportAll(list: readonly Finding[], many: (count: number) => string): void {
		if (list.length <= toldSingly) this.findings.push(...list);
		else
			this.findings.push({
				...list[0]!,
				message: many(list.length),
				pieces: [...new Set(list.flatMap((f) => f.pieces ?? []))]
			});
	}
}

keepHiddenClass(new Report());
