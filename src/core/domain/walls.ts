import type { Arrangement } from '../geometry/pieces.ts';
import type { Model, Stated } from '../recipe/model.ts';
import { layersOf, type LayerStatement } from '../recipe/statements/layers.ts';
import type { Report } from '../text/report.ts';
import { didYouMean } from '../text/nearest.ts';
import { resolvePieces } from './references.ts';
import type { Region } from './regions.ts';

/** Layers on walls: for half-pieces (`2 p` to the left of piece p, `2 p + 1` to its right) the statement that rules. */
export interface WallLayers {
	statements: readonly Stated<LayerStatement>[];
	/** By half-piece, the statement as an index. */
	of: ReadonlyMap<number, number>;
}

/** Which sides of which pieces grow layers; of two statements about one the later rules. */
export function findWalls(model: Model, arrangement: Arrangement, regions: readonly Region[], report: Report): WallLayers {
	const statements = layersOf(model);
	const of = new Map<number, number>();
	const names = new Set(regions.map((r) => r.statement));
	const regionAt = new Map(regions.map((region) => [region.face, region]));
	statements.forEach((statement, k) => {
		const own = report.about(statement.line);
		if (statement.region !== undefined && !names.has(statement.region)) {
			own.error('unknown-region', `no region is named \`${statement.region}\`${didYouMean(statement.region, names)}`);
			return;
		}
		const pieces = resolvePieces(model, arrangement, statement.pieces, own);
		let found = 0;
		for (const { piece } of pieces)
			for (const half of [2 * piece, 2 * piece + 1]) {
				if (statement.side && (statement.side === 'left') !== (half % 2 === 0)) continue;
				const region = regionAt.get(arrangement.sides[half]!);
				if (!region || (statement.region !== undefined && region.statement !== statement.region)) continue;
				if (region.fill === 'none') continue;
				of.set(half, k);
				found++;
			}
		if (pieces.length > 0 && found === 0)
			own.warning('layers-nowhere', 'these walls bound no filled region on the side that is meant, so nothing grows there');
	});
	return { statements, of };
}
