import type { Result } from '../core/pipeline.ts';
import type { StudyCase } from '../core/study/cases.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { type DeliveryOutcome, problemsOf } from './delivery.ts';
import type { Part } from './parts.ts';
import { type CaseRecord, emptyRecord, outcomeOf } from './study.ts';

/**
 * Runs a case of a study, and delivers it where that is asked. What goes wrong stands in its record: a case fails alone.
 *
 * @param hash of all that the case depends on
 * @param deliver makes the deliveries of a mesh without errors; without it there are none
 */
export async function runCase(
	one: StudyCase,
	hash: string,
	run: () => Result | Promise<Result>,
	deliver?: (result: Result) => Promise<DeliveryOutcome[]>
): Promise<{ record: CaseRecord; parts: Part[] }> {
	let record = emptyRecord(one, hash);
	let parts: Part[] = [];
	try {
		const result = await run();
		record = { ...record, ...outcomeOf(result) };
		if (deliver && record.ok) {
			const outcomes = await deliver(result);
			const problems = problemsOf(outcomes);
			parts = outcomes.flatMap((delivered) => delivered.parts);
			if (problems.length > 0) record = { ...record, ok: false, message: problems.join('; ') };
		}
	} catch (error) {
		record = { ...record, ok: false, message: sentenceOf(error, 'this case') };
	}
	return { record, parts };
}
