import type { Severity } from '../text/finding.ts';

/**
 * All that is said of one kind of finding. A stage states the facts; the words stand here.
 *
 * @typeParam Facts what the sentence is made of: names, numbers in the recipe's units, places
 */
export interface FindingRecord<Facts> {
	severity: Severity;
	/** What is wrong, where, and what to do, in this order. */
	says(facts: Facts): string;
	/** The same for a number of findings, where there are too many to list each. */
	many?(count: number): string;
	/** It concerns the labels: while there is one, they are not verified. */
	label?: true;
	/** The words of the button that settles it. */
	mend?: string;
	/** Its paragraph of docs/findings.md: what it means, and what to do. */
	about: string;
}

/** A record; states the type of its facts once. */
export const kind = <Facts = object>(record: FindingRecord<Facts>): FindingRecord<Facts> => record;

/** A record whose sentence comes whole from what found it, an error that it caught mostly. */
export const worded = (about: string, severity: Severity = 'error'): FindingRecord<{ message: string }> =>
	kind({ severity, says: ({ message }) => message, about });

/** A message about the fill of a region. */
export interface FillFacts {
	region: string;
	message: string;
}

/** The sentence of a region that could not be filled. */
export const refusalOf = ({ region, message }: FillFacts): string => `region “${region}” could not be filled: ${message}`;
