import { describe, expect, it } from 'vitest';
import { pieceNames } from '../../core/domain/references.ts';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { pieceRow, spacingClause, targetGroups } from './rows.ts';

const result = finish(
	new Pipeline(() => 0).run({
		text: 'recipe 1\nline floor = (0, 0) to (6, 0)\nline a = (0, 0) to (0, 3)\nline b = (3, 3) to (3, 0)\nline c = (6, 0) to (6, 3)\nline roof = (0, 3) to (6, 3)',
		files: {}
	})
);
const names = pieceNames(result.arrangement);
const rows = (list: string[]) => list.map((name) => pieceRow(result, names, names.indexOf(name)));
const groups = (edited: string, list: string[], toward: string) =>
	targetGroups(rows([edited])[0]!, rows(list), toward, result.arrangement);

describe('a spacing that is set on several pieces', () => {
	it('names for each an end that it has', () => {
		expect(groups('a', ['a', 'b', 'c'], 'floor')).toEqual([{ toward: 'floor', names: ['a', 'b', 'c'] }]);
	});

	it('takes for a piece that does not meet that end the one on the same side', () => {
		// The two halves of the floor: what is the left end of one is its own for the other.
		const found = groups('floor[1]', ['floor[1]', 'floor[2]'], 'a');
		expect(found).toEqual([
			{ toward: 'a', names: ['floor[1]'] },
			{ toward: 'b', names: ['floor[2]'] }
		]);
		for (const { toward, names: list } of found)
			for (const name of list) {
				const { targets } = rows([name])[0]!;
				expect([...targets.start, ...targets.end]).toContain(toward);
			}
	});

	it('goes to both ends of all where it is meant so', () => {
		expect(groups('a', ['a', 'roof[1]'], 'both')).toEqual([{ toward: 'both', names: ['a', 'roof[1]'] }]);
	});

	it('is written with the word that its numbers want', () => {
		expect(spacingClause('4', 'floor')).toBe('bias 4 toward floor');
		expect(spacingClause('first 0.1', 'floor')).toBe('first 0.1 at floor');
	});
});
