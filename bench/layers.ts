import { readFileSync } from 'node:fs';
import { Pipeline } from '../src/core/pipeline.ts';
import { growLayers } from '../src/core/fill/layers/grow.ts';
import { finish } from '../src/core/numeric/work.ts';
import { pairs, type Ratio } from './ratio.ts';

/** A wavy body of 100 000 wall edges in a square, and the plain loop that writes what 20 layers on it are. */
function layersInput() {
	const [n, layers] = [100_000, 20];
	const x = new Float64Array(n + 4);
	const y = new Float64Array(n + 4);
	for (let k = 0; k < n; k++) {
		const a = (-2 * Math.PI * k) / n;
		const r = 100 * (1 + 0.1 * Math.sin(5 * a));
		x[k] = r * Math.cos(a);
		y[k] = r * Math.sin(a);
	}
	x.set([-500, 500, 500, -500], n);
	y.set([-500, -500, 500, 500], n);
	const edges = Uint32Array.from({ length: 2 * (n + 4) }, (_, i) => {
		const k = (i + 1) >> 1;
		return i < 2 * n ? k % n : n + ((k - n) % 4);
	});
	const wallOf = new Int32Array(n + 4).fill(-1, n);
	const wall = { first: 1e-4, growth: 1.2, count: layers };
	const plain = () => {
		const [px, py, quads] = [new Float64Array(n * layers), new Float64Array(n * layers), new Uint32Array(4 * n * layers)];
		for (let l = 0, i = 0; l < layers; l++)
			for (let k = 0; k < n; k++, i++) {
				px[i] = x[k]! * (1 + l * 1e-3);
				py[i] = y[k]! * (1 + l * 1e-3);
				const next = (k + 1) % n;
				quads[4 * i] = l * n + k;
				quads[4 * i + 1] = l * n + next;
				quads[4 * i + 2] = (l + 1) * n + next;
				quads[4 * i + 3] = (l + 1) * n + k;
			}
	};
	return { input: { x, y, edges }, wall, wallOf, plain };
}

/** Layers of 20 cells on 100 000 wall edges around a wavy body, against writing the same coordinates and quads in a plain loop. */
export function layersAgainstCopy(): Ratio {
	const { input, wall, wallOf, plain } = layersInput();
	return {
		what: 'layers of 20 cells on 100 000 wall edges, 2 million quads',
		against: 'writing the same coordinates and quads in a plain loop',
		...pairs(3, () => finish(growLayers(input, { walls: [wall], wallOf })), plain),
		wanted: '≤ 12'
	};
}

/** The whole of the cold plate with its layers against without. */
export function coldPlateAgainstBare(): Ratio {
	const text = readFileSync('demo/cold-plate.tessellon', 'utf8');
	const bare = text.replace(/^layers .*$/gm, '');
	const run = (source: string) => finish(new Pipeline(() => 0).run({ text: source, files: {} }));
	return {
		what: 'the whole of cold-plate with layers on its walls',
		against: 'the same without',
		...pairs(
			15,
			() => run(text),
			() => run(bare)
		),
		wanted: '≤ 1.5'
	};
}
