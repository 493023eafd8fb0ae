import { Report } from '../core/findings/report.ts';
import { isA } from '../core/recipe/language/statement.ts';
import { delivery } from '../core/recipe/statements/deliver.ts';
import type { Model } from '../core/recipe/model/model.ts';
import type { Finding, Span } from '../core/text/finding.ts';
import { templateProblem } from './deck.ts';
import { requestedDeliveries } from './delivery.ts';

/** What is wrong with the deliveries that a recipe asks for, before any is made: formats, options, templates of decks. */
export function checkDeliveries(model: Model): Finding[] {
	const report = new Report(model.recipe.lines);
	for (const { line, statement, problem } of requestedDeliveries(model)) {
		// What cannot be read or worked out is told already.
		if (!statement) continue;
		const { template } = statement;
		const message = problem ?? (template && templateProblem(template));
		if (message !== undefined) report.about(line).add('delivery', { message }, { within: placeOf(model, line, message) });
	}
	return report.findings;
}

/** The word of a delivery that a sentence is about, where it names one in quotes. */
function placeOf({ recipe }: Model, line: number, message: string): Span | undefined {
	const { statement } = recipe.lines[line]!;
	if (!isA(delivery, statement)) return undefined;
	const words = statement.options.flat();
	const [, named] = /“([^”]+)”/.exec(message) ?? [];
	const word = words.find(({ text }) => text === named);
	if (word) return word;
	return statement.clauses.find(
		({ name }) => name === (words.length > 0 && !message.startsWith('there is no format') ? 'options' : 'format')
	);
}
