import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import { readGeometryFile } from './geometry-file.ts';

const demos = {
	venturi: '2f740d0a320f9c57',
	'cold-plate': 'b25e4a17743780d8',
	'relief-valve': '7752e8a3839f4e1f',
	'splitter-elbow': 'f040b30d7b2d2327',
	'gasket-groove': 'f96744bcaad6d225'
};

/** Every number of a mesh, its edges and its names. */
function hashOf({ mesh }: Result): string {
	const hash = createHash('sha256');
	const { x, y, triangles, triangleRegion, quads, quadRegion, edges, edgePiece, regions, groups } = mesh;
	for (const array of [x, y, triangles, triangleRegion, quads, quadRegion, edges, edgePiece])
		hash.update(new Uint8Array(array.buffer, array.byteOffset, array.byteLength));
	const named = groups.map((group) => ({
		name: group.name,
		kind: group.kind,
		colour: group.colour,
		pieces: group.members === 'edges' ? group.pieces : [],
		regions: group.members === 'elements' ? group.regions : []
	}));
	return hash
		.update(JSON.stringify({ regions, groups: named }))
		.digest('hex')
		.slice(0, 16);
}

describe('the meshes of the demos', () => {
	let wall: Uint8Array;
	beforeAll(() => (wall = readFileSync('demo/throat-wall.csv')));

	it.each(Object.entries(demos))('%s stays the same, bit for bit', (name, hash) => {
		const text = readFileSync(`demo/${name}.tessellon`, 'utf8');
		const files = { 'throat-wall.csv': readGeometryFile(wall) };
		expect(hashOf(finish(new Pipeline(() => 0).run({ text, files })))).toBe(hash);
	});
});
