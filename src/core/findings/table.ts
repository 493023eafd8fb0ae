import { drawingFindings } from './drawing-findings.ts';
import { meshFindings } from './mesh-findings.ts';
import type { FindingRecord } from './record.ts';
import { recipeFindings } from './recipe-findings.ts';

/** Every kind of finding by its code. */
export const findings = { ...recipeFindings, ...drawingFindings, ...meshFindings };

export type FindingCode = keyof typeof findings;

/** What the sentence of a code is made of. */
export type FactsOf<Code extends FindingCode> = (typeof findings)[Code] extends FindingRecord<infer Facts> ? Facts : never;

/** The record of a code. */
export const findingRecord = <Code extends FindingCode>(code: Code): RecordOf<Code> => (findings as Records)[code];

type RecordOf<Code extends FindingCode> = FindingRecord<FactsOf<Code>>;
type Records = { [Code in FindingCode]: RecordOf<Code> };

/** Whether a finding concerns the labels. */
export const concernsLabels = ({ code }: { code: string }): boolean => findingRecord(code as FindingCode).label === true;

/** docs/findings.md: every code with its severity and its paragraph. */
export function findingsPage(): string {
	const head = [
		'# All findings',
		'',
		'Each finding has a code, a place in the recipe and in the drawing, and often an edit that settles it. An *error* stops the delivery of what depends on it, a *warning* is doubtful, a *note* informs. Made from `src/core/findings/`; a test holds this page against it, and `npx vitest run src/core/findings -u` writes it again.'
	].join('\n');
	const sections = Object.entries(findings)
		.sort(([a], [b]) => (a < b ? -1 : 1))
		.map(([code, { severity, about, mend }]) =>
			[`## ${code}`, '', `*${severity}.* ${about}`, ...(mend ? ['', `Mend: “${mend}”.`] : [])].join('\n')
		);
	return `${[head, ...sections].join('\n\n')}\n`;
}
