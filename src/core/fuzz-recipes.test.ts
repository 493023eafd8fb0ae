import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { refusalOf } from '../formats/refusal.ts';
import { readFileOfRecipe } from '../formats/read-file.ts';
import { report } from '../formats/report.ts';
import { finish } from './numeric/work.ts';
import { Pipeline } from './pipeline.ts';
import { parseSettings } from './recipe/model/settings.ts';
import { statements } from './recipe/statements/table.ts';
import { tryStatement } from './recipe/model/evaluate.ts';
import { sentenceOf } from './text/user-error.ts';

/** Words that no person writes: a sentence that holds one came from a machine. */
const machineWords =
	/undefined|\bNaN\b|\[object|Cannot (read|set|access|convert|destructure|mix)|is not (a function|iterable|a constructor|defined|extensible)|Unexpected (token|end|identifier)|in JSON|Infinity|Invalid (string|array|typed|count|time|date|regular)|call stack|out of bounds|numItems|\.[jt]s:\d+|\bat \w+\.\w+ \(|failed inside/;

const demos = readdirSync('demo').filter((name) => name.endsWith('.tessellon'));
const files = Object.fromEntries(
	await Promise.all(
		readdirSync('demo')
			.filter((name) => !name.endsWith('.tessellon'))
			.map(async (name) => [name, await readFileOfRecipe(readFileSync(`demo/${name}`))] as const)
	)
);
/** Statements that can be worked out in the drawing below, and every one as its documentation writes it. */
const forms = [
	'arc e = (20, 3) to (20, 7) around (20, 5)',
	'baffle m = vane as wall',
	'bezier e = (0, 0) to (3, 8) to (9, 8) to (12, 0)',
	'bspline e = (1, 8) to (3, 9) to (5, 8) to (7, 9) degree 3',
	'chamfer e = box.left with box.top lengths 1',
	'circle e = around (15, 5) radius 1',
	'curve e = (10 + t, 5 + sin(t)) for t from 0 to 3',
	'cut e = (10, 5) to box.top',
	'deliver tables ids from 0 separator ";"',
	'divide box.left into 10 bias 5 toward box.bottom',
	'divide hole into 24',
	'divide box.bottom into 12 first 0.5 at box.left',
	'divide box.top by size 0.5',
	'divide box.right into 8 growth 1.2 at both',
	'ellipse e = around (15, 5) radii 2, 1',
	'far e = circle around box by 3',
	'fill r structured',
	'fill r quads',
	'fill r triangles even',
	'fillet e = box.left with box.top radius 1',
	'frame axisymmetric about x',
	'group g = box.left, box.right as inflow colour blue',
	'group rest = outer as wall',
	'group metal = region r',
	'layers on hole first 0.05 growth 1.2 count 6',
	'layers on box.bottom, box.top first 0.1 growth 1.3 count 4',
	'let b = n*3 range 1 to 30',
	'copy e = hole mirrored across x = 10',
	'move hole by (1, 0)',
	'node (3, 3)',
	'offset e = hole by 0.5 right',
	'order 2',
	'periodic box.left with box.right',
	'polygon e = around (15, 5) sides 6 radius 2',
	'polyline e = (1, 1) to (3, 2) to (4, 1) closed',
	'repeat e = hole by (4, 0) count 3',
	'scale hole by 1.2 about (6, 5)',
	'size 0.5 near hole within 2',
	'size 0.7 inside box (2, 2) to (8, 8)',
	'size by turn 24',
	'size by gap 4',
	'solid slab 3 into 4 sides front, back',
	'spline e = (1, 8) to (4, 9) to (8, 8)',
	'split box.top into 3',
	'study s = n from 2 to 8 in 4',
	'trim vane to hole keep (12, 5)',
	'turn hole by 15 deg about (5, 5)',
	'units cm',
	...statements.map(({ form }) => form.replace(/\$\{([^}]*)\}/g, '$1'))
];
const drawing = `recipe 1
let n = 4
rectangle box = (0, 0) to (20, 10)
circle hole = around (6, 5) radius 2
line vane = (10, 5) to (14, 5)
region r at (1, 1)
region h at (6, 5)
size 2 growth 1.3
fill r triangles
fill h none
`;
const demoTexts = demos.map((name) => readFileSync(`demo/${name}`, 'utf8'));

const numbers = [
	...['0', '-1', '1', '2', '7.5', '1e-300', '1e300', '1e999', '-1e12', '1e9', '4294967296', '9007199254740993', '0.1', '1/3'],
	...['360', '90 deg', '3 in', 'n', '-n', 'sqrt(-1)', 'max(1)', '(1, 2)', '1e-9', '99999']
];
const words = [
	...[
		'constructor',
		'__proto__',
		'toString',
		'box',
		'hole',
		'r',
		'h',
		'box.left',
		'box[9]',
		'x',
		'near',
		'inside',
		'toward',
		'into'
	],
	...[
		'first',
		'growth',
		'triangles',
		'structured',
		'quads',
		'around',
		'to',
		'from',
		'layers',
		'"a"',
		'""',
		'größe',
		'𝛼',
		'\u202e',
		'=',
		',',
		'('
	]
];
/** A change of a text: which token or line, and what becomes of it. */
const mutation = fc.record({
	what: fc.constantFrom(
		...(['drop', 'double', 'number', 'number', 'number', 'word', 'swap', 'line', 'cut', 'insert', 'form', 'form'] as const)
	),
	at: fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
	other: fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true })
});
type Mutation = typeof mutation extends fc.Arbitrary<infer T> ? T : never;

function mutated(text: string, { what, at, other }: Mutation): string {
	const pick = <T>(list: readonly T[], share: number) => list[Math.floor(share * list.length)]!;
	const lines = text.split('\n');
	const tokens = text.split(/(\s+|[(),=])/);
	const k = Math.floor(at * tokens.length);
	switch (what) {
		case 'drop':
			return tokens.toSpliced(k, 1).join('');
		case 'double':
			return tokens.toSpliced(k, 0, tokens[k]!, ' ').join('');
		case 'number': {
			const places = tokens.flatMap((token, i) => (/^[\d.]/.test(token) ? [i] : []));
			return places.length === 0 ? text : tokens.with(pick(places, at), pick(numbers, other)).join('');
		}
		case 'word': {
			const places = tokens.flatMap((token, i) => (/^[a-z]/.test(token) ? [i] : []));
			return places.length === 0 ? text : tokens.with(pick(places, at), pick(words, other)).join('');
		}
		case 'swap':
			return tokens.with(k, pick(tokens, other)).join('');
		case 'line':
			return lines.toSpliced(Math.floor(at * lines.length), 0, pick(lines, other)).join('\n');
		case 'cut':
			return text.slice(0, Math.floor(at * text.length));
		case 'insert':
			return tokens.toSpliced(k, 0, ' ', pick(words, other), ' ').join('');
		case 'form':
			return lines.toSpliced(Math.floor(at * lines.length), 0, pick(forms, other)).join('\n');
	}
}

const base = fc.oneof(
	{ weight: 1, arbitrary: fc.constantFrom(...demoTexts) },
	{
		weight: 4,
		arbitrary: fc.array(fc.constantFrom(...forms), { minLength: 1, maxLength: 5 }).map((list) => `${drawing}${list.join('\n')}\n`)
	}
);
const recipe = fc
	.tuple(base, fc.array(mutation, { minLength: 0, maxLength: 4 }))
	.map(([text, changes]) => changes.reduce(mutated, text));

const isSentence = (text: string, message: string) => {
	if (machineWords.test(message) || message.length > 1001 || message === '')
		throw new Error(`a machine speaks: ${JSON.stringify(message)}\nin\n${text}`);
};

describe('whatever a recipe says', () => {
	it('no sentence about it is a machine’s', () => {
		fc.assert(
			fc.property(recipe, fc.constantFrom(...numbers, ...words), (text, value) => {
				const pipeline = new Pipeline(() => 0);
				try {
					const result = finish(pipeline.run({ text, files, askAbove: 5000 }));
					for (const { message } of result.findings) isSentence(text, message);
					for (const holds of ['mesh', 'page', 'drawing'] as const) {
						const refusal = refusalOf(result, holds, false);
						if (refusal !== undefined) isSentence(text, refusal);
					}
					expect(JSON.stringify(report(result))).not.toMatch(/NaN|undefined/);
					const tried = tryStatement(result.model, text.split('\n').at(-2) ?? '');
					if ('error' in tried) isSentence(text, tried.error);
				} catch (error) {
					if (/a machine speaks/.test((error as Error).message)) throw error;
					throw new Error(`${(error as Error).stack}\nin\n${text}`, { cause: error });
				}
				try {
					finish(pipeline.run({ text, files, askAbove: 100, settings: parseSettings({ n: value }) }));
				} catch (error) {
					isSentence(text, sentenceOf(error));
				}
			}),
			{ numRuns: process.env.LONG ? 20_000 : 250 }
		);
	}, 240_000);
});
