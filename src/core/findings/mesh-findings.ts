import { counted, placeText, short } from '../text/sentences.ts';
import { type FillFacts, kind, refusalOf, worded } from './record.ts';

type Place = { x: number; y: number };

/** A number that was asked for, and what came. */
interface PromiseFacts {
	/** What was measured: `first cell of “wall”`. */
	what: string;
	asked: number;
	got: number;
	/** The unit, after a space. */
	units: string;
	/** At how many more places. */
	others: number;
}

const missed = ({ what, asked, got, units, others }: PromiseFacts): string =>
	`${what}: ${short(asked)}${units} was asked for, ${short(got)}${units} came${others > 0 ? `, and it is missed at ${others} more place${others === 1 ? '' : 's'}` : ''}`;

/** A region that could not be filled. */
/** A stretch of wall between two places. */
interface StretchFacts {
	from: Place;
	to: Place;
}

/** So many stretches are named; of more it is said how many. */
const mostStretches = 3;

/** Where something is so, along walls. */
function stretchesText(stretches: readonly StretchFacts[]): string {
	const named = stretches.slice(0, mostStretches).map(({ from, to }) => {
		return from.x === to.x && from.y === to.y ? `at ${placeText(from)}` : `from ${placeText(from)} to ${placeText(to)}`;
	});
	const more = stretches.length - named.length;
	return `${named.join(', ')}${more > 0 ? ` and on ${counted(more, 'more stretch', 'more stretches')}` : ''}`;
}

/** A share as people say it. */
const percent = (share: number): string => (share < 0.01 ? 'less than 1 %' : `${Math.round(100 * share)} %`);

const refusal = (about: string) => kind<FillFacts>({ severity: 'error', says: refusalOf, about });
/** What a fill could not do as requested. */
const remark = (about: string) =>
	kind<FillFacts>({ severity: 'warning', says: ({ region, message }) => `region “${region}”: ${message}`, about });

/** Findings about the mesh: fills, layers, elements, labels. */
export const meshFindings = {
	'chords-cross': refusal(
		'The straight edges between boundary nodes cross, because a curve is divided too coarsely for how near another one comes. Use more divisions there.'
	),
	'too-many': refusal('The requested sizes would take more elements than a region may have. Use larger sizes.'),
	'nodes-coincide': refusal('Two nodes of the boundary fall onto one place. Use fewer divisions, or a weaker bias.'),
	'not-structured': kind<{ region: string; reason: string }>({
		severity: 'error',
		says: ({ region, reason }) => `region “${region}” cannot be structured: ${reason}`,
		about:
			'The outline has no layout of blocks: its corners or counts do not allow one. Choose corners, or fill it with quads or triangles.'
	}),
	folded: refusal(
		'The cells of a structured region fold over, and smoothing does not cure it. Choose other corners, or cut the region in two there.'
	),
	'not-quads': remark('Some quadrilaterals could not be made without a fold, so the region is filled with triangles there.'),
	'no-blocks': remark(
		'No four-sided blocks were found by themselves, or they would fold, so the region is filled with quadrilaterals in rows. Cuts drawn by hand part it into blocks.'
	),
	'triangles-left': remark(
		'A region of quadrilaterals keeps some triangles, where counts around it are odd or its outline is too narrow.'
	),
	'better-corners': kind<{ region: string; given: number; places: readonly string[]; value: number }>({
		severity: 'note',
		says: ({ region, given, places, value }) =>
			`the corners of “${region}” give cells of a scaled Jacobian of ${given > 0 ? given.toFixed(2) : 'zero and below'} at the worst; those at ${places.join(', ')} would give ${value.toFixed(2)}`,
		mend: 'Take those corners',
		about: 'Other corners of a structured region would give clearly better cells.'
	}),
	're-entrant': kind<{ region: string; at: readonly Place[] }>({
		severity: 'note',
		says: ({ region, at }) =>
			`“${region}” turns back at ${at.map(placeText).join(', ')}; cut from there it makes ${at.length + 1} blocks`,
		mend: 'Cut it into blocks',
		about:
			'A structured region has a re-entrant corner, around which cells are poor. A line from that corner splits it into blocks.'
	}),
	'order-fold': kind<{ at: Place; more: number }>({
		severity: 'error',
		says: ({ at, more }) =>
			`an element of second order at ${placeText(at)}${more > 0 ? `, and ${more} more,` : ''} folds beside a curve; finer divisions there keep it whole`,
		about: 'An element with curved sides is folded: its sides follow a curve that bends too much within one element.'
	}),
	inverted: kind<{ count: number }>({
		severity: 'error',
		says: ({ count }) =>
			`${count} element${count === 1 ? ' is' : 's are'} folded, inverted, or flat with a corner of 0° or 180°; a solver cannot use them`,
		about: 'The mesh holds elements without a positive area everywhere.'
	}),
	'wall-height': kind<{ region: string; mean: number; least: number; most: number; lean: number }>({
		severity: 'note',
		says: ({ region, mean, least, most, lean }) =>
			`the cells of “${region}” along its walls are ${mean.toFixed(2)} times as high as requested on average (${least.toFixed(2)} to ${most.toFixed(2)}), and their lines lean ${Math.round(lean)}° off the normal; let the sides of the block meet the wall more squarely, or use more divisions across`,
		about: 'First cells of a structured block differ from the requested height, because grid lines meet the wall at an angle.'
	}),
	'not-as-asked': kind<PromiseFacts>({
		severity: 'warning',
		says: (facts) => `${missed(facts)}; another number stands against it there: change one of the two`,
		about:
			'The mesh was measured, and a number that the recipe asks for is not in it: the finding says what came, and where. Another statement, the count of an opposite side, or too little room stands against it.'
	}),
	'size-missed': kind<PromiseFacts>({
		severity: 'warning',
		says: (facts) => `${missed(facts)}; counts or spacings of the pieces around hold it there`,
		about:
			'The elements of a region or a zone are larger than their size: the divisions around them, or the rows that go through, leave no finer ones.'
	}),
	'layers-squeezed': kind<{ growth: number | undefined; scale: number; share: number; stretches: readonly StretchFacts[] }>({
		severity: 'note',
		says: ({ growth, scale, share, stretches }) =>
			`for want of room ${[...(growth === undefined ? [] : [`growth falls to ${growth.toPrecision(3)}`]), ...(scale > 0.999 ? [] : [`first heights to ${scale.toPrecision(2)} of what is asked`])].join(' and ')} on ${share > 0.999 ? 'all of the walls' : `${percent(share)} of the walls: ${stretchesText(stretches)}`}`,
		about:
			'Where there is little room all cells of layers stay: their growth falls first, to 1 at least, then all become lower, to half of their first height at least. With “exact” they stay as high as asked and upper ones are left out; with “squeeze” they become lower by one factor.'
	}),
	'layers-reduced': kind<{ count: number; of: number; complete: number; stretches: readonly StretchFacts[] }>({
		severity: 'note',
		says: ({ count, of, complete, stretches }) =>
			`there is room for ${count} of ${of} layers ${stretchesText(stretches)}; the upper ones are left out there, ${Math.floor(100 * complete)} % of the walls have all`,
		about:
			'Where two walls come near, a corner is sharp, or the piece beside the wall has divisions that do not carry the cells, upper layers are left out.'
	}),
	'layers-behind': worded(
		'The elements behind the layers are more than 3 times as high as the last layer on half of the walls. More layers, or smaller elements along the walls, bring the two together.',
		'note'
	),
	'group-empty': kind<{ group: string }>({
		severity: 'warning',
		label: true,
		says: ({ group }) => `the group “${group}” has no edge of the mesh: nothing is filled beside its pieces`,
		about: 'A labelled piece lies beside no filled region.'
	}),
	'group-inside': kind<{ group: string; piece: string; more: number }>({
		severity: 'warning',
		label: true,
		says: ({ group, piece, more }) =>
			`“${piece}”${more > 0 ? ` and ${more} more of` : ' of'} the group “${group}” lies inside a region, so a solver sees no boundary there; a two-sided wall, “baffle ${group} = …”, parts the mesh along it`,
		mend: 'Make it a two-sided wall',
		about: 'A label stands on a curve inside one region, where elements are joined across.'
	}),
	'wall-shut': kind<{ piece: string; wall: string }>({
		severity: 'warning',
		label: true,
		says: ({ piece, wall }) =>
			`“${piece}” of the two-sided wall “${wall}” is one edge between two free tips, which cannot open; divide it into 2 at least`,
		about: 'A two-sided wall needs a node between its two free ends.'
	}),
	'wall-outside': kind<{ piece: string; wall: string }>({
		severity: 'warning',
		label: true,
		says: ({ piece, wall }) =>
			`“${piece}” of the two-sided wall “${wall}” has elements on one side only; it bounds the mesh there, and a group is enough`,
		about: 'A two-sided wall lies on the boundary of the mesh.'
	}),
	'axis-planar': kind<{ group: string }>({
		severity: 'warning',
		label: true,
		says: ({ group }) =>
			`the group “${group}” is an axis, but the frame is planar; write “frame axisymmetric about x”, or give it another kind, like symmetry`,
		about: 'The kind axis is for axisymmetric frames.'
	}),
	'axis-off': kind<{ group: string; at: Place; axis: string }>({
		severity: 'warning',
		label: true,
		says: ({ group, at, axis }) =>
			`the group “${group}” is an axis, but at ${placeText(at)} it is off the ${axis} axis; an axis lies on it all along`,
		about: 'A group of the kind axis must lie on the axis of revolution.'
	}),
	'symmetry-bent': kind<{ group: string; at: Place }>({
		severity: 'warning',
		label: true,
		says: ({ group, at }) =>
			`the group “${group}” is a plane of symmetry, but at ${placeText(at)} it leaves its straight line; make it a group for each plane, or a slip wall`,
		about: 'A symmetry condition holds on one straight line.'
	}),
	'point-no-node': kind<{ group: string; source: string }>({
		severity: 'error',
		label: true,
		says: ({ group, source }) => `${source} of the group “${group}” is no node of the mesh; “node ${source}” makes it one`,
		mend: 'Make it a node',
		about: 'A group of points names a place without a node.'
	}),
	'no-material': kind<{ region: string; statement: string }>({
		severity: 'warning',
		label: true,
		says: ({ region, statement }) =>
			`the region “${region}” is of no material, while others are; “group … = region ${statement}” gives it one`,
		about: 'Some regions are in material groups and this one is in none.'
	}),
	'owner-nowhere': kind<{ group: string; at: Place; meeting: readonly string[] }>({
		severity: 'warning',
		label: true,
		says: ({ group, at, meeting }) =>
			meeting.length > 0
				? `the group “${group}” does not meet others at ${placeText(at)}; ${meeting.map((name) => `“${name}”`).join(' and ')} do, and one of them can own the node`
				: `no groups meet at ${placeText(at)}, so there is nothing to own`,
		about: 'An “owner” statement names a place where the group meets no other group.'
	})
};
