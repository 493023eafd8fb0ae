import type { Settings } from './evaluate.ts';
import { parseExpression } from '../language/parse.ts';
import type { Expression } from '../language/syntax.ts';
import { UserError } from '../../text/user-error.ts';

/** Values of parameters from their sources, like `{ beta: '0.5' }`; throws an Error with a sentence where one cannot be read. */
export function parseSettings(sources: Readonly<Record<string, string>>): Settings {
	const settings = new Map<string, Expression>();
	for (const [name, source] of Object.entries(sources)) {
		const { expression, error } = parseExpression(source);
		if (!expression) throw new UserError(`${name}=${source}: ${error!.message}`);
		settings.set(name, expression);
	}
	return settings;
}
