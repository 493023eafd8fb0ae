import type { MeshParts } from '../assembly/assemble.ts';
import type { Fill } from '../fill/method.ts';
import { figuresAtWalls } from '../fill/structured/fill-structured.ts';
import { largestGrowth, stencils } from '../fill/structured/smooth.ts';
import type { WallFigures } from '../fill/structured/walls.ts';
import type { Mesh } from '../mesh/mesh.ts';
import type { Report } from '../findings/report.ts';

/** What the cells along the walls of a structured region came to, where first cells have a height of their own. */
export interface RegionWallFigures extends WallFigures {
	region: string;
	/** The largest ratio of neighbouring cells of the region. */
	growth: number;
}

/** A mean height, over what is asked, that is farther off than this is reported. */
const offHeight = 0.02;

interface CachedWalls {
	x: Float64Array;
	y: Float64Array;
	walls: RegionWallFigures | undefined;
}

/** Measures the walls of structured regions on the finished mesh; what has not changed is not measured again. */
export class WallStage {
	private last = new Map<Fill, CachedWalls>();

	run(mesh: Mesh, { domain: { regions }, numbering, fills }: MeshParts, report: Report): RegionWallFigures[] {
		const current = new Map<Fill, CachedWalls>();
		const all: RegionWallFigures[] = [];
		let firstInner = numbering.count;
		// Nodes are numbered otherwise where a region is missing.
		const isWhole = regions.every((region, r) => region.fill === 'none' || fills[r]);
		fills.forEach((entry, r) => {
			if (!entry) return;
			const { fill, global } = entry;
			const first = firstInner;
			firstInner += fill.x.length;
			if (!isWhole || fill.layout?.kind !== 'block' || !fill.layout.walls.some(Boolean)) return;
			const cached = this.last.get(fill);
			const isKnown = cached?.x === mesh.x && cached.y === mesh.y;
			const walls = isKnown ? cached.walls : measured(mesh, regions[r]!.name, fill, global, first);
			current.set(fill, { x: mesh.x, y: mesh.y, walls });
			if (!walls) return;
			all.push(walls);
			if (Math.abs(walls.mean - 1) > offHeight)
				report.about(regions[r]!.fillLine).add('wall-height', {
					region: walls.region,
					mean: walls.mean,
					least: walls.min,
					most: walls.max,
					lean: walls.meanLean
				});
		});
		this.last = current;
		return all;
	}
}

function measured(
	mesh: Mesh,
	region: string,
	fill: Fill,
	global: Uint32Array,
	firstInner: number
): RegionWallFigures | undefined {
	const given = global.length;
	const x = new Float64Array(given + fill.x.length);
	const y = new Float64Array(x.length);
	global.forEach((p, k) => {
		x[k] = mesh.x[p]!;
		y[k] = mesh.y[p]!;
	});
	x.set(mesh.x.subarray(firstInner, firstInner + fill.x.length), given);
	y.set(mesh.y.subarray(firstInner, firstInner + fill.x.length), given);
	const { layout } = fill;
	if (layout?.kind !== 'block') return undefined;
	const sides = figuresAtWalls(x, y, given, layout);
	const worst = sides.reduce((a, b) => (Math.abs(b.mean - 1) > Math.abs(a.mean - 1) ? b : a));
	return {
		region,
		min: Math.min(...sides.map((s) => s.min)),
		mean: worst.mean,
		max: Math.max(...sides.map((s) => s.max)),
		meanLean: Math.max(...sides.map((s) => s.meanLean)),
		maxLean: Math.max(...sides.map((s) => s.maxLean)),
		growth: largestGrowth(x, y, stencils(x.length, fill.quads, given))
	};
}
