import type { CurveReference, Expression, PieceSetSyntax, Word } from './syntax.ts';

/** What a name names: the same word may name a curve, a region and a group. Parameters, points and curves are one space. */
export type NameSpace = 'value' | 'region' | 'group' | 'study';

/** A name as a statement writes it, at an offset from the statement's start. */
export interface NameUse {
	space: NameSpace;
	name: string;
	from: number;
}

/** The names of parameters, points and curves in expressions and references, or in lists of them. */
export function namesIn(
	...parts: readonly (Expression | CurveReference | readonly (Expression | CurveReference)[] | undefined)[]
): NameUse[] {
	return parts.flatMap((part): NameUse[] => {
		if (!part) return [];
		if (Array.isArray(part)) return namesIn(...(part as readonly Expression[]));
		const one = part as Expression | CurveReference;
		if (!('kind' in one) && one.set) return namesOfSet(one.set);
		if (!('kind' in one) && one.through) return [...namesIn({ ...one, through: undefined }), ...namesIn(one.through)];
		if (!('kind' in one)) return [{ space: 'value', name: one.name.split('.', 1)[0]!, from: one.from }];
		switch (one.kind) {
			case 'number':
				return [];
			case 'name':
				return [{ space: 'value', name: one.name, from: one.from }];
			case 'member':
				return [{ space: 'value', name: one.object.split('.', 1)[0]!, from: one.from }];
			case 'negate':
				return namesIn(one.operand);
			case 'binary':
				return namesIn(one.left, one.right);
			case 'call':
				return namesIn(one.arguments);
			case 'pair':
				return namesIn(one.x, one.y);
		}
	});
}

const namesOfSet = ({ regions, layer, box, facing, of, but, curve, at }: PieceSetSyntax): NameUse[] => [
	...regionsIn(regions),
	...namesIn(of, but, curve, at),
	...namesIn(layer, box, typeof facing?.direction === 'object' ? facing.direction : undefined, facing?.within)
];

/** The names of regions. */
export const regionsIn = (words: readonly Word[] | undefined): NameUse[] =>
	(words ?? []).map(({ text, from }) => ({ space: 'region', name: text, from }));
