import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { flatten } from '../../core/geometry/parts.ts';
import { pieceNames } from '../../core/domain/references.ts';
import { dragHandle, handlesOf } from './handles.ts';
import { fitted, screenX, screenY } from './view.ts';

const text = 'recipe 1\npoint p = (0, 0)\nline l = p to (100, 0)\nline m = (100, 0) to (100, 50)\ndivide l into 10\n';
const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
const names = pieceNames(result.arrangement);
const view = fitted({ x: 0, y: 0, scale: 1, width: 800, height: 600 }, [0, 0, 100, 50], 0);
const handles = handlesOf(result, 0, view);
const drag = (kind: 'count' | 'start' | 'end', to: { px: number; py: number }) => {
	const handle = handles.find((h) => h.kind === kind)!;
	const line = flatten(result.arrangement.pieces[0]!, 1e-3);
	return dragHandle(handle, result, result.recipe, names, view, handle, to, line);
};

describe('handles of a piece', () => {
	it('stand on its first and last inner nodes, and beside its middle', () => {
		expect(handles.map((h) => h.kind)).toEqual(['count', 'start', 'end']);
		const [, start, end] = handles;
		expect(start!.px).toBeCloseTo(screenX(view, 10), 6);
		expect(end!.px).toBeCloseTo(screenX(view, 90), 6);
		expect(start!.py).toBeCloseTo(screenY(view, 0), 6);
	});

	it('are none where the piece is too short on the screen, and none for a cell where there is one only', () => {
		expect(handlesOf(result, 0, { ...view, scale: 0.1 })).toEqual([]);
		const one = finish(new Pipeline(() => 0).run({ text: text.replace('into 10', 'into 1'), files: {} }));
		expect(handlesOf(one, 0, view).map((h) => h.kind)).toEqual(['count']);
	});

	it('change the count by a division every eight pixels along the piece', () => {
		const { px, py } = handles[0]!;
		expect(drag('count', { px: px + 40, py }).text).toContain('divide l into 15');
		expect(drag('count', { px: px - 24, py: py + 70 }).text).toContain('divide l into 7');
		expect(drag('count', { px: px - 9000, py }).text).toContain('divide l into 1\n');
	});

	it('set the cell at an end where they are dragged to, with a point or curve that is there', () => {
		const to = { px: screenX(view, 4), py: screenY(view, 3) };
		expect(drag('start', to)).toEqual({
			text: text.replace('into 10', 'into 10 first 4 at p'),
			label: 'first 4 at p on l'
		});
		expect(drag('end', { px: screenX(view, 97.5), py: 300 }).text).toContain('divide l into 10 first 2.5 at m');
	});
});
