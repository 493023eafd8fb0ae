import type { Finding } from './finding.ts';

/** More findings of one kind than this are told in one. */
export const toldSingly = 12;

/** Reports a list of findings of one kind, or the first of them with a count where there are many. */
export function tell(findings: Finding[], list: readonly Finding[], many: (count: number) => string): void {
	if (list.length <= toldSingly) findings.push(...list);
	else findings.push({ ...list[0]!, message: many(list.length), pieces: [...new Set(list.flatMap((f) => f.pieces ?? []))] });
}
