import { type Affine, mapPoint } from '../../geometry/transform.ts';
import { atan2 } from '../../numeric/elementary.ts';
import type { CurveReference } from '../language/syntax.ts';

/** Where a copy of a part stands, and what its names begin with. */
export interface Placement {
	/** A turn and a move. */
	map: Affine;
	name: string;
	/** Names of groups begin with it as well. */
	hasOwnGroups: boolean;
}

/** Keys under which statements keep the names of regions. */
const regionKeys: ReadonlySet<string> = new Set(['regions', 'region']);
/** Keys under which they keep flat lists of x and y. */
const listKeys: ReadonlySet<string> = new Set(['outline', 'points']);
/** Keys under which they keep directions, in radians. */
const directionKeys: ReadonlySet<string> = new Set(['along', 'angle']);

/**
 * What a statement of a part came to, as it holds for a copy of the part: its places where the copy stands, its curves and regions by
 * the names that they have there. Lengths stay: a copy is turned and moved.
 */
export function placedOutcome(kind: string, outcome: unknown, placement: Placement): unknown {
	const { map, name, hasOwnGroups } = placement;
	const turn = atan2(map.b, map.a);
	const named = (text: string) => `${name}.${text}`;
	const walk = (value: unknown, key: string): unknown => {
		if (value instanceof Float64Array) return listKeys.has(key) ? mappedList(value, map) : value;
		if (typeof value === 'string') return regionKeys.has(key) ? named(value) : value;
		if (typeof value === 'number') return directionKeys.has(key) ? value + turn : value;
		if (Array.isArray(value)) return value.map((item) => walk(item, key));
		if (typeof value !== 'object' || value === null) return value;
		if (isPlace(value)) return { ...value, ...mapPoint(map, value) };
		const mapped = Object.fromEntries(Object.entries(value).map(([k, item]) => [k, walk(item, k)]));
		return isReference(value) && value.name !== '' ? { ...mapped, name: named(value.name) } : mapped;
	};
	const placed = walk(outcome, '') as Record<string, unknown>;
	const isOwn = kind === 'region' || ((kind === 'group' || kind === 'baffle') && hasOwnGroups);
	return isOwn && typeof placed.name === 'string' ? { ...placed, name: named(placed.name) } : placed;
}

const isPlace = (value: object): value is { x: number; y: number } =>
	'x' in value && 'y' in value && typeof value.x === 'number' && typeof value.y === 'number';

const isReference = (value: object): value is CurveReference =>
	'name' in value && typeof value.name === 'string' && 'from' in value && typeof value.from === 'number';

function mappedList(list: Float64Array, map: Affine): Float64Array {
	const out = new Float64Array(list.length);
	for (let k = 0; k < list.length; k += 2) {
		const { x, y } = mapPoint(map, { x: list[k]!, y: list[k + 1]! });
		out[k] = x;
		out[k + 1] = y;
	}
	return out;
}
