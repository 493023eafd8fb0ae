import type { Domain } from '../domain/domain.ts';
import { resolvePieces } from '../domain/references.ts';
import { Report } from '../findings/report.ts';
import { stated } from '../recipe/language/statement.ts';
import { divide } from '../recipe/statements/divide.ts';
import { fill } from '../recipe/statements/fill.ts';
import { layers } from '../recipe/statements/layers.ts';
import { globalSizes } from '../recipe/statements/size.ts';

/** A statement, and the things that it settles, each by a text of its own. */
interface Settled {
	line: number;
	what: string;
	keys: readonly string[];
}

/** Says of every statement of which nothing is left that later ones overrule it, and which: so that nothing acts from afar. */
export function checkOverruled(domain: Domain, report: Report): void {
	const { model } = domain;
	const list = settledBy(domain).sort((a, b) => a.line - b.line);
	const last = new Map<string, number>();
	for (const { line, keys } of list) for (const key of keys) last.set(key, line);
	for (const { line, what, keys } of list) {
		if (keys.length === 0 || keys.some((key) => last.get(key) === line)) continue;
		const lines = [...new Set(keys.map((key) => last.get(key)!))].sort((a, b) => a - b);
		const numbers = lines.map((k) => model.recipe.lines[k]!.number);
		// The copies of a part say the same on one line.
		report.about(line).add('overruled', { what, lines: [...new Set(numbers)] });
	}
}

function settledBy({ model, arrangement, regions }: Domain): Settled[] {
	const silent = new Report([]);
	const piecesOf = (list: Parameters<typeof resolvePieces>[2]) =>
		resolvePieces(model, arrangement, list, silent, regions).map(({ piece }) => piece);
	const sizes = globalSizes(model);
	return [
		...stated(model, divide).map((statement): Settled => {
			const { line, pieces, count, size, perTurn, chordError, numbers, positions, like, asOne } = statement;
			const isCounted = count !== undefined || size !== undefined || perTurn !== undefined || chordError !== undefined;
			const isSpaced = numbers !== undefined || positions !== undefined || like !== undefined || asOne !== undefined;
			const keys = piecesOf(pieces).flatMap((p) => [...(isCounted ? [`count ${p}`] : []), ...(isSpaced ? [`spacing ${p}`] : [])]);
			return { line, what: 'these divisions', keys };
		}),
		...stated(model, fill).map(({ line, regions: names }): Settled => ({
			line,
			what: 'this fill',
			keys: names.map((name) => `fill ${name}`)
		})),
		...stated(model, layers).map(({ line, pieces, side, region }): Settled => {
			const keys = piecesOf(pieces).map((p) => `layers ${p} ${side ?? ''} ${region ?? ''}`);
			return { line, what: 'these layers', keys };
		}),
		...sizes.map(({ line, growth, jump }): Settled => ({
			line,
			what: 'this size',
			keys: ['size', ...(growth === undefined ? [] : ['growth']), ...(jump === undefined ? [] : ['jump'])]
		}))
	];
}
