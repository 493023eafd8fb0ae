import { didYouMean } from '../text/nearest.ts';
import { short } from '../text/sentences.ts';
import { kind, refusalOf, worded } from './record.ts';

const round = (value: number): number => Number(value.toPrecision(4));

/** A message, of the fill of a region where it is one. */
const inRegion = ({ message, region }: { message: string; region?: string }): string =>
	region === undefined ? message : refusalOf({ region, message });

/** Findings about what the recipe says. */
export const recipeFindings = {
	syntax: worded(
		'The statement cannot be read. The message says what was found and what was expected there. All other statements still count.'
	),
	value: worded(
		'An expression of the statement has no value, or one that the statement cannot use: an unknown name, a wrong unit, a number outside its range. The statement is left out until it is mended.'
	),
	'defined-twice': kind<{ word: string; line: number }>({
		severity: 'error',
		says: ({ word, line }) => `“${word}” is already defined on line ${line}; remove one of the two`,
		about: 'Some statements, like units or frame, hold for the whole recipe and can stand only once. The first one counts.'
	}),
	'nested-too-deeply': kind({
		severity: 'error',
		says: () => 'this expression is nested too deeply; give names to parts of it with “let”',
		about: 'An expression with thousands of nested brackets or operators cannot be evaluated. Split it with “let” statements.'
	}),
	internal: kind<{ message: string; region?: string }>({
		severity: 'error',
		says: inRegion,
		about:
			'Something failed inside Tessellon. Everything before that step is still shown. Please report the recipe with the message; a change of the statement named often works around it.'
	}),
	'no-header': kind({
		severity: 'warning',
		says: () => 'the first statement should be “recipe 1”, so that later versions know how to read this file',
		mend: 'Add it',
		about: 'The first statement names the version of the recipe language.'
	}),
	'bare-angle': kind<{ value: number }>({
		severity: 'warning',
		says: ({ value }) =>
			`a number without a unit counts in radians here: ${round(value)} is ${round((value * 180) / Math.PI)}°; write “${round(value)} deg” if degrees are meant, or “${round(value)} rad”`,
		mend: 'Make it degrees',
		about:
			'A number without a unit in “sin”, “cos” or “tan” counts in radians, and may have been meant in degrees. Where a statement expects an angle, a number without a unit is an error.'
	}),
	range: kind<{ name: string; value: number; low: number; high: number }>({
		severity: 'warning',
		says: ({ name, value, low, high }) => `“${name}” is ${value}, outside its range ${low} to ${high}`,
		about: 'A parameter lies outside the range that its statement gives. The value is used as it stands.'
	}),
	thinned: kind<{ name: string; points: number; left: number; deviation: number; within: number; line: string }>({
		severity: 'note',
		says: ({ name, points, left, deviation, within, line }) =>
			left < points
				? `${points} points of “${name}” became ${left}; the points left out lie ${Number(deviation.toPrecision(3))} from it at most${line}`
				: `all ${points} points of “${name}” are needed to stay within ${within}, so none was left out`,
		about: 'A curve from a file was thinned on request. The largest distance of a removed point from the curve is given.'
	}),
	'several-outlines': kind<{ file: string; count: number }>({
		severity: 'warning',
		says: ({ file, count }) =>
			`“${file}” holds ${count} outlines; a curve takes the first unless “outline 2” and so on follows the file's name`,
		about: 'A coordinate file has several outlines, and the statement does not say which one it takes.'
	}),
	'unknown-curve': worded('A statement names a curve or a piece that does not exist. The nearest existing name is proposed.'),
	'unknown-region': kind<{ name: string; names: Iterable<string> }>({
		severity: 'error',
		says: ({ name, names }) => `no region is named “${name}”${didYouMean(name, names)}`,
		about: 'A statement names a region that no “region” statement defines.'
	}),
	delivery: worded(
		'A delivery names a format or an option that there is not, or a template that cannot be read; it is not made.'
	),
	'unknown-group': kind<{ name: string; names: Iterable<string> }>({
		severity: 'error',
		says: ({ name, names }) => `no group of pieces or points is named “${name}”${didYouMean(name, names)}`,
		about: 'An “owner” statement names a group that does not exist, or one of regions, which own no nodes.'
	}),
	'nothing-described': kind<{ source: string; found: number; facing: boolean }>({
		severity: 'warning',
		label: true,
		says: ({ source, found, facing }) =>
			facing && found > 0
				? `“${source}” finds no piece: none of the ${found} ${found === 1 ? 'piece faces' : 'pieces face'} that way`
				: `“${source}” finds no piece`,
		about: 'A description of pieces, like “holes of plate”, matches no piece of the drawing as it is now.'
	}),
	'zone-coarse': kind<{ size: number; around: number }>({
		severity: 'note',
		says: ({ size, around }) =>
			`the size of this zone, ${size}, is not below the size around it, ${around}, so it changes nothing`,
		about: 'Sizes only make elements smaller. A zone with a larger size than its surroundings has no effect.'
	}),
	'fade-short': kind<{ size: number; around: number; growth: number; needed: number; fade: number }>({
		severity: 'note',
		says: ({ size, around, growth, needed, fade }) =>
			`from ${size} to ${around} at a growth of ${growth} takes ${Number(needed.toPrecision(3))}, so the zone fades over that and not over ${fade}; a larger growth makes it shorter`,
		about: 'The requested fading distance of a zone is shorter than the growth of sizes allows. The growth counts.'
	}),
	overruled: kind<{ what: string; lines: readonly number[] }>({
		severity: 'note',
		says: ({ what, lines }) =>
			`${what} ${what.startsWith('these') ? 'do' : 'does'} nothing: ${lines.length > 1 ? 'lines' : 'line'} ${lines.join(', ')} below ${lines.length > 1 ? 'say' : 'says'} otherwise of all that it is about, and the later rules`,
		about: 'Of two statements about the same thing the later rules. Nothing is left of the earlier one, which may be a mistake.'
	}),
	'growth-limit': kind<{ growth: number; taken: number }>({
		severity: 'note',
		says: ({ growth, taken }) =>
			`sizes grow by ${taken} and not by ${growth}: triangles and quads that grow faster have poor angles, and the elements that mend those make the mesh larger, not smaller`,
		about:
			'A growth of sizes above 1.5 is taken as 1.5 where regions are filled with triangles or quads. Blocks alone grow as fast as asked.'
	}),
	'no-size': kind<{ names: readonly string[]; size: number; units: string }>({
		severity: 'note',
		says: ({ names, size, units }) =>
			`no size is given for ${names.map((name) => `“${name}”`).join(', ')}; ${size} ${units}, about a fortieth of the drawing, is used`,
		mend: 'Write this size',
		about: 'A region is filled by size, and the recipe gives none. A size from the extent of the drawing is used.'
	}),
	'no-fill': kind<{ region: string }>({
		severity: 'warning',
		says: ({ region }) => `region “${region}” has no fill, so it stays empty`,
		mend: 'Fill it with triangles',
		about: 'A region without a “fill” statement gets no elements. Where it is a hole on purpose, “fill … none” says so.'
	}),
	periodic: worded(
		'The two sides of a periodic pair do not match. They must be equal except for one shift, or one turn about a point, and be cut at the same places.'
	),
	'periodic-count': kind<{ here: number; there: number }>({
		severity: 'warning',
		says: ({ here, there }) =>
			`${here} divisions here, but ${there} on the piece that it is periodic with, and that one counts; leave one of the counts out`,
		about: 'Both sides of a periodic pair have typed counts that differ. The first side counts.'
	}),
	divide: worded(
		'The pieces of a “divide” statement do not allow what it requests, for example because they do not follow one another.'
	),
	toward: worded('The end of a piece that cells should cluster at is not an end of that piece.'),
	spacing: kind<{ message: string; region?: string }>({
		severity: 'error',
		says: inRegion,
		about: 'No positions of nodes fulfil the numbers that a spacing requests. The piece is divided evenly instead.'
	}),
	'count-conflict': worded(
		'Opposite sides of a structured region must have equal counts, and counts carry from block to block. The typed counts along one such chain contradict each other. The smallest changes that settle it are given.'
	),
	'too-fine': kind<{ piece: string; count: number; most: number }>({
		severity: 'error',
		says: ({ piece, count, most }) =>
			`the requested sizes would take about ${count.toExponential(1)} divisions on “${piece}”, and a drawing has at most ${most.toLocaleString('en')}; use larger sizes there`,
		about: 'The sizes along a piece are so small that the boundary alone would have more nodes than Tessellon makes.'
	}),
	'cut-flat': kind<{ piece: string; degrees: number; at: string; size: number }>({
		severity: 'note',
		says: ({ piece, degrees, at, size }) =>
			`“${piece}” turns by ${degrees}° on one edge at ${at} (30° recommended); a size of ${short(size)} there, or “by chord”, follows it`,
		many: (n) => `${n} curves are divided too coarsely for their curvature: edges turn by more than 45° (30° recommended)`,
		about: 'A curve is divided by a typed size that is large against its radius, so that edges cut its curvature off.'
	}),
	jump: kind<{ piece: string; other: string; at: string; cell: number; otherCell: number; ratio: number }>({
		severity: 'note',
		says: ({ piece, other, at, cell, otherCell, ratio }) =>
			`where “${piece}” meets “${other}” at ${at}, a cell of ${short(cell)} lies beside one of ${short(otherCell)}, ${short(Number(ratio.toPrecision(3)))} times finer`,
		many: (n) => `at ${n} places neighbouring cells along a line differ too much`,
		mend: 'Match first cell',
		about:
			'Two neighbouring cells along a line differ by more than a factor of 2, or the factor that “size … jump” gives. Solvers lose accuracy there.'
	}),
	crowded: kind<{ piece: string; at: string; count: number; plain: number; size: number; reason: 'bend' | 'gap' }>({
		severity: 'note',
		says: ({ piece, at, count, plain, size, reason }) =>
			`“${piece}” takes ${count.toLocaleString('en')} divisions where its length over the size asks for ${plain.toLocaleString('en')}: ` +
			(reason === 'bend'
				? `it turns within less than that, most at ${at}, where they are ${short(size)}; if that is noise, thin it with “thinned within”, else give it a count or a smaller size`
				: `the gap beside it at ${at} asks for ${short(size)}; widen the gap, or give the piece a count`),
		many: (n) => `${n} curves take more than four times the divisions that their lengths over the size ask for`,
		mend: 'Thin the curve',
		about:
			'A curve is divided far more finely than its size asks, because it turns too much within one size, as noise does, or because of a narrow gap. The size that was typed is not what comes.'
	}),
	'narrow-gap': kind<{ one: string; other: string; at: string; width: number; size: number; angle: number }>({
		severity: 'note',
		says: ({ one, other, at, width, size, angle }) =>
			`between “${one}” and “${other}” at ${at} there are only ${short(width)}; elements of ${short(size)} there have angles down to about ${short(angle)}°: widen the gap, or let sizes follow it`,
		many: (n) => `${n} gaps are far narrower than the elements around them; angles there are small`,
		mend: 'Let sizes follow gaps',
		about: 'Two boundaries come so near that elements of the requested size are flat between them.'
	})
};
