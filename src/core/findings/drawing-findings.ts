import { placeText, short } from '../text/sentences.ts';
import { kind, worded } from './record.ts';

type Place = { x: number; y: number };

/** Findings about the drawing: curves, outlines, regions, labels on pieces. */
export const drawingFindings = {
	'open-end': kind<{ curve: string; at: Place }>({
		severity: 'warning',
		says: ({ curve, at }) => `“${curve}” ends at ${placeText(at)} without meeting another curve`,
		many: (n) => `${n} ends meet no other curve`,
		about: 'A curve ends in the open, so no outline closes through it. Join it to another curve, or trim it.'
	}),
	'inner-edge': kind<{ curve: string; at: Place }>({
		severity: 'note',
		says: ({ curve, at }) =>
			`“${curve}” ends at ${placeText(at)} without meeting another curve; it stays in the mesh as an inner edge`,
		many: (n) => `${n} ends inside regions meet no other curve`,
		about: 'A curve ends inside a region. Elements align with it; a label on it says that this is meant.'
	}),
	'near-ends': kind<{ curve: string; other: string; at: Place; distance: number }>({
		severity: 'warning',
		says: ({ curve, other, at, distance }) =>
			`“${curve}” ends at ${placeText(at)}, ${short(distance)} away from “${other}” and not joined to it`,
		many: (n) => `${n} ends almost meet another curve and are not joined to it`,
		mend: 'Join them',
		about: 'A curve ends a little before another one. Usually the two should meet; the mend moves one end onto the other curve.'
	}),
	'bounds-nothing': kind<{ curve: string; at: Place }>({
		severity: 'note',
		says: ({ curve, at }) => `“${curve}” at ${placeText(at)} is not part of any closed outline, and lies in none`,
		many: (n) => `${n} curves are not part of any closed outline, and lie in none`,
		mend: 'Remove it',
		about: 'The mesh does not use this curve.'
	}),
	doubled: kind<{ curve: string; other: string; at: Place }>({
		severity: 'warning',
		says: ({ curve, other, at }) => `“${curve}” lies wholly on “${other}” at ${placeText(at)}; one of the two is enough`,
		many: (n) => `${n} curves lie wholly on another one`,
		mend: 'Remove it',
		about: 'A drawing often holds the same line twice. The mesh is the same without the second one; labels on it are not.'
	}),
	overlap: kind<{ curve: string; other: string; at: Place }>({
		severity: 'note',
		says: ({ curve, other, at }) =>
			`“${curve}” lies on “${other}” for a part of its way, around ${placeText(at)}; they share that piece`,
		many: (n) => `${n} curves lie on another one for a part of their way`,
		about: 'Two curves share a piece. A label or division of either one counts for it.'
	}),
	'self-crossing': kind<{ curve: string; at: Place; lines: string }>({
		severity: 'warning',
		says: ({ curve, at, lines }) => `“${curve}” crosses itself at ${placeText(at)}${lines}`,
		many: (n) => `curves cross themselves at ${n} places`,
		about: 'A curve crosses itself, most often because points of a file are in the wrong order. Loops become faces of their own.'
	}),
	spur: kind<{ curve: string; at: Place; lines: string }>({
		severity: 'warning',
		says: ({ curve, at, lines }) => `“${curve}” runs out to ${placeText(at)} and straight back over itself${lines}`,
		many: (n) => `curves run out and back over themselves at ${n} places`,
		about: 'A point of a curve lies off its course, and the curve returns on the same line.'
	}),
	zigzag: kind<{ curve: string; at: Place; lines: string }>({
		severity: 'warning',
		says: ({ curve, at, lines }) => `“${curve}” turns back at ${placeText(at)} and on again${lines}`,
		many: (n) => `lines turn back and on again at ${n} places`,
		about: 'Two rows of a coordinate file are in the wrong order, or one of them is wrong.'
	}),
	'short-piece': kind<{ curve: string; at: Place; length: number; times: number }>({
		severity: 'warning',
		says: ({ curve, at, length, times }) =>
			`a piece of “${curve}” at ${placeText(at)} is ${short(length)} long, ${times} times shorter than its neighbours; elements there become as small`,
		many: (n) => `${n} pieces are far shorter than their neighbours`,
		about: 'A very short piece forces very small elements around it. Usually two points should be one.'
	}),
	'sharp-corner': kind<{ region: string; at: Place; angle: number; structured: boolean }>({
		severity: 'note',
		says: ({ region, at, angle, structured }) =>
			`the corner of “${region}” at ${placeText(at)} has ${short(angle)}°; ${structured ? 'the cells in it are as skewed' : 'a triangle in it has an angle no larger than that'}`,
		many: (n) => `${n} corners of filled regions are sharper than 20°; triangles in them have angles no larger`,
		about: 'No mesh can have a larger angle in a corner than the corner has.'
	}),
	'curve-vanishes': kind<{ curve: string; at: Place; length: number; reach: number }>({
		severity: 'error',
		says: ({ curve, at, length, reach }) =>
			`“${curve}” at ${placeText(at)} is ${short(length)} long, and points nearer than ${short(reach)} are one here, so nothing is left of it; draw it larger, or nearer the origin`,
		many: (n) => `${n} curves vanish, or their outlines have zero area`,
		about:
			'A curve is smaller than the resolution of the drawing, which follows from its extent and its distance from the origin.'
	}),
	'too-many-crossings': kind<{ curve: string }>({
		severity: 'error',
		says: ({ curve }) =>
			`“${curve}” meets itself or other curves, or runs beside them, more often than can be worked out, so it is left out; thin it, smooth it, or leave out what it crosses`,
		many: (n) => `${n} curves vanish or cross too often`,
		about: 'A curve with noise on the scale of the resolution crosses itself or others too often. It is left out of the drawing.'
	}),
	'encloses-nothing': kind<{ curve: string; at: Place; retraced: boolean }>({
		severity: 'error',
		says: ({ curve, at, retraced }) =>
			retraced
				? `“${curve}” closes at ${placeText(at)} but encloses nothing: the outline has zero area, it retraces itself`
				: `the outline with “${curve}” at ${placeText(at)} encloses no area beyond rounding; move its sides apart`,
		many: (n) => `${n} curves vanish, or their outlines have zero area`,
		about: 'A closed outline has zero area, so it is no region.'
	}),
	'below-axis': kind<{ at: Place; coordinate: string }>({
		severity: 'error',
		says: ({ at, coordinate }) =>
			`the drawing lies on both sides of the axis, down to ${placeText(at)}; an axisymmetric section lies on one side, ${coordinate} ≥ 0`,
		about: 'In an axisymmetric frame the drawing is a half-section.'
	}),
	'near-axis': kind<{ distance: number }>({
		severity: 'warning',
		says: ({ distance }) =>
			`this point is ${short(distance)} away from the axis, nearly on it; the section should end exactly on the axis`,
		mend: 'Put it on the axis',
		about: 'A point almost lies on the axis of revolution. A small gap there becomes a thin bore in the solid.'
	}),
	'lost-node': kind<{ at: Place; region: string; method: string }>({
		severity: 'warning',
		says: ({ at, region, method }) =>
			`the node at ${placeText(at)} is left out: “${region}” is filled ${method}, and its cells stand in rows that pass it by; fill it “triangles”, or draw a curve through the node`,
		about: 'Structured and quadrilateral fills cannot place a single node inside.'
	}),
	'region-twice': kind<{ name: string; other: string }>({
		severity: 'error',
		says: ({ name, other }) => `“${name}” is the same part of the domain as region “${other}”`,
		about: 'Two region statements name the same face. The first one counts.'
	}),
	'region-open': worded('No closed outline lies around the point of a region, or its list of curves does not close.'),
	'region-ambiguous': kind<{ name: string; curves: string; count: number }>({
		severity: 'error',
		says: ({ name, curves, count }) => `${curves} bound ${count} separate faces; say which with “region ${name} at (x, y)”`,
		about: 'The curves that a region lists bound more than one face.'
	}),
	'unnamed-face': kind<{ at: Place }>({
		severity: 'warning',
		says: ({ at }) =>
			`a closed outline around (${Number(at.x.toPrecision(5))}, ${Number(at.y.toPrecision(5))}) belongs to no region, so it gets no mesh`,
		many: (n) => `${n} closed outlines belong to no region, so they get no mesh`,
		mend: 'Make it a region',
		about:
			'An outline is closed, but no region statement names it. A hole that is meant is a region with the fill “none”, and a curve that only helps is a guide: then nothing is said.'
	}),
	'layers-nowhere': kind({
		severity: 'warning',
		says: () => 'no filled region on that side of the wall, so no layers grow there',
		about: 'A layers statement names walls without a filled region beside them.'
	}),
	unlabelled: kind<{ piece: string }>({
		severity: 'warning',
		label: true,
		says: ({ piece }) => `the boundary piece “${piece}” is in no group, so a solver gets no condition there`,
		about: 'An outer piece of the mesh has no label.'
	}),
	'two-groups': kind<{ piece: string; groups: readonly string[] }>({
		severity: 'warning',
		label: true,
		says: ({ piece, groups }) =>
			`the piece “${piece}” is in the groups ${groups.map((name) => `“${name}”`).join(' and ')}, and is delivered in each; most solvers take one condition to an edge`,
		about: 'A piece has two labels. Most solvers accept one condition to an edge.'
	})
};
