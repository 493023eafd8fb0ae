import { sideMeant } from '../domain/wall-sides.ts';
import { addTo } from '../numeric/lists.ts';
import type { Report } from '../findings/report.ts';
import type { Point } from '../geometry/curve.ts';
import type { PromiseKind, PromiseKinds, StatementPromise } from '../recipe/language/promise.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { Finding, Span } from '../text/finding.ts';
import type { Model, WithLine } from '../recipe/model/model.ts';
import { statements } from '../recipe/statements/table.ts';
import type { Measured, PromiseMeasure, Standing } from './measure.ts';
import { MeshView, type MeshWithDrawing } from './mesh-view.ts';
import { promiseMeasures } from './table.ts';

/** What a promise of a recipe came to on a mesh. */
export interface PromiseCheck {
	/** Index of the statement. */
	line: number;
	asks: PromiseKind;
	/** What was measured, in the words of the statement. */
	what: string;
	asked: number;
	got: number;
	unit: PromiseMeasure<PromiseKind>['unit'];
	isKept: boolean;
	at?: Point;
	pieces?: number[];
	/** At how many more places it is missed. */
	more?: number;
}

/** Everything that the statements of a model ask, with the index of each statement, in their order. */
export function promisesOf(model: Model): { line: number; promise: StatementPromise }[] {
	const list = statements.flatMap(({ kind, promises }) =>
		promises ? ((model.stated[kind] ?? []) as WithLine<never>[]).map((s) => ({ s, promises })) : []
	);
	return list
		.flatMap(({ s, promises }) => promises(s).map((promise) => ({ line: (s as WithLine<object>).line, promise })))
		.sort((a, b) => a.line - b.line);
}

/** What promises a later one overrules: those of its kind about the same pieces, walls, or region. */
class Overruling {
	private readonly last = new Map<string, number>();

	private readonly ownSizes = new Set<string>();

	constructor(
		private readonly view: MeshView,
		list: readonly { line: number; promise: StatementPromise }[]
	) {
		for (const { line, promise } of list) {
			for (const key of this.keysOf(promise)) this.last.set(key, line);
			if (promise.asks === 'size' && promise.place.kind === 'region') this.ownSizes.add(promise.place.region);
		}
	}

	/** What still holds of a promise; undefined where nothing does. */
	standing<K extends PromiseKind>(
		line: number,
		promise: StatementPromise & { asks: K } & PromiseKinds[K]
	): Standing<K> | undefined {
		const { overruled } = promiseMeasures[promise.asks];
		const holds = (key: string) => this.last.get(key) === line;
		const pieces =
			overruled && 'pieces' in promise ? this.view.piecesOf(promise.pieces).filter((p) => holds(`${overruled} ${p}`)) : [];
		const sides = overruled === 'layers' ? this.sidesOf(promise).filter((h) => holds(`layers ${h}`)) : [];
		if (overruled && pieces.length === 0 && sides.length === 0) return undefined;
		const key = keyOfSize(promise);
		if (key !== undefined && !holds(key)) return undefined;
		return { promise, pieces, sides, ownSizes: this.ownSizes };
	}

	private keysOf(promise: StatementPromise): string[] {
		const { overruled } = promiseMeasures[promise.asks];
		const size = keyOfSize(promise);
		if (size !== undefined) return [size];
		if (overruled === 'layers') return this.sidesOf(promise).map((h) => `layers ${h}`);
		return overruled && 'pieces' in promise ? this.view.piecesOf(promise.pieces).map((p) => `${overruled} ${p}`) : [];
	}

	/** The sides of walls that a statement about layers is about: those that lie in a region, or in the region that it names. */
	private sidesOf(promise: StatementPromise): number[] {
		if (!('pieces' in promise)) return [];
		const [side, region] = ['side' in promise ? promise.side : undefined, 'region' in promise ? promise.region : undefined];
		const pieces = this.view.piecesOf(promise.pieces);
		const isMeant = sideMeant(this.view.arrangement, pieces, side);
		return pieces.flatMap((p) =>
			[2 * p, 2 * p + 1].filter((h) => {
				if (!isMeant(h)) return false;
				const beside = this.view.regionBeside(h);
				return beside && beside.fill !== 'none' && (region === undefined || beside.statement === region);
			})
		);
	}
}

/** Of sizes everywhere, or in one region, the last holds; of those in zones all do. */
function keyOfSize(promise: StatementPromise): string | undefined {
	if (promise.asks !== 'size') return undefined;
	const { place } = promise;
	return place.kind === 'all' ? 'size' : place.kind === 'region' ? `size of ${place.region}` : undefined;
}

/** What depends on labels and pairs, not on nodes and elements alone: these are measured every time. */
const ofLabels: ReadonlySet<PromiseKind> = new Set(['edges', 'elements', 'periodic']);

/** Remembers what was measured on a mesh: while nodes and elements stay, as when a label changes, it is not measured again. */
export class PromiseMemory {
	private seen: Pick<MeshWithDrawing['mesh'], 'x' | 'triangles' | 'quads' | 'edgePiece'> | undefined;
	private known = new Map<string, Measured[]>();
	private next = new Map<string, Measured[]>();

	/** Begins with a mesh; what is not asked for until the next time is forgotten. */
	begin({ x, triangles, quads, edgePiece }: MeshWithDrawing['mesh']): void {
		const { seen } = this;
		const isSame = seen?.x === x && seen.triangles === triangles && seen.quads === quads && seen.edgePiece === edgePiece;
		this.known = isSame ? this.next : new Map();
		this.next = new Map();
		this.seen = { x, triangles, quads, edgePiece };
	}

	measured<K extends PromiseKind>(standing: Standing<K>, make: () => Measured[]): Measured[] {
		const { promise, pieces, sides, ownSizes } = standing;
		if (ofLabels.has(promise.asks)) return make();
		// Where in the text a name stands changes nothing.
		const key = JSON.stringify([promise, pieces, sides, [...ownSizes]], (name, value: unknown) =>
			name === 'from' || name === 'to' ? undefined : value
		);
		const found = this.known.get(key) ?? make();
		this.next.set(key, found);
		return found;
	}
}

/** Holds everything that a recipe asks against a mesh: what was asked, what came, and where, the promises in the order of their statements. */
export function checkPromises(subject: MeshWithDrawing, memory = new PromiseMemory()): PromiseCheck[] {
	memory.begin(subject.mesh);
	const view = subject instanceof MeshView ? subject : new MeshView(subject);
	const list = promisesOf(subject.model);
	const overruling = new Overruling(view, list);
	const check = <K extends PromiseKind>(
		line: number,
		promise: StatementPromise & { asks: K } & PromiseKinds[K]
	): PromiseCheck[] => {
		const standing = overruling.standing<K>(line, promise);
		if (!standing) return [];
		const { measure, unit } = promiseMeasures[promise.asks] as PromiseMeasure<K>;
		return memory
			.measured(standing, () => measure(standing, view))
			.map((m: Measured) => ({ line, asks: promise.asks, unit, ...m }));
	};
	return list.flatMap(({ line, promise }) => check(line, promise));
}

/** Reports the promises that are not kept, one finding for a statement's number; what another finding says of the same statement already is left out. */
export function reportPromises(checks: readonly PromiseCheck[], { lines }: Recipe, units: string, report: Report): void {
	const byNumber = new Map<string, PromiseCheck[]>();
	for (const check of checks) if (!check.isKept) addTo(byNumber, `${check.line} ${check.asks}`, check);
	for (const [first, ...more] of byNumber.values()) {
		const { line, asks, what, asked, got, unit, at } = first!;
		if (isSaid(report.findings, lines[line]!, first!)) continue;
		const others = (first!.more ?? 0) + more.length;
		const pieces = [...new Set([first!, ...more].flatMap((c) => c.pieces ?? []))];
		const inUnits = unit === 'length' ? ` ${units}` : '';
		report
			.about(line)
			.add(
				asks === 'size' ? 'size-missed' : 'not-as-asked',
				{ what, asked, got, units: inUnits, others },
				{ ...(at ? { at } : {}), pieces }
			);
	}
}

const isSaid = (findings: readonly Finding[], line: Span, { asks, pieces = [] }: PromiseCheck): boolean => {
	const { saidBy = [] } = promiseMeasures[asks];
	const codes: readonly string[] = saidBy;
	return findings.some(
		({ code, span, pieces: about = [] }) =>
			codes.includes(code) && ((span && span.from < line.to && span.to > line.from) || pieces.some((p) => about.includes(p)))
	);
};
