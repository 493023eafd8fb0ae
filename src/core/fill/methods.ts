import type { Region } from '../domain/regions.ts';
import type { FillMethod } from './method.ts';
import { blocks } from './blocks/blocks.ts';
import { quads, quadsMostly } from './quads/quads.ts';
import { rightTriangles, structured } from './structured/structured.ts';
import { evenTriangles, triangles } from './triangles/triangles.ts';

/** Every way to fill a region, in the order in which they are offered. */
export const fillMethods: readonly FillMethod[] = [
	structured,
	blocks,
	quads,
	quadsMostly,
	triangles,
	evenTriangles,
	rightTriangles
];

/** The way in which a region is to be filled; undefined for one that stays empty. */
export const methodOf = (region: Region): FillMethod | undefined => fillMethods.find((method) => method.fills(region));
