import * as Comlink from 'comlink';
import { Pipeline, type Result } from '../../core/pipeline.ts';
import { type MeasureResult, qualityOf } from '../../core/quality/quality.ts';
import type { TextEdit } from '../../core/text/edit.ts';
import { convertUnits } from '../../core/recipe/edits/convert-units.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { CoordinateFile, CoordinateFiles } from '../../core/recipe/model/model.ts';
import { keepNames } from '../../core/domain/lasting.ts';
import { gridOf } from '../../core/mesh/grid.ts';
import { solidOf } from '../../core/recipe/statements/solid.ts';
import { solidGrid } from '../../core/solid/solid.ts';
import { type Surface, surfaceOf } from '../../core/solid/surface.ts';
import type { DeckPreview } from '../../formats/deck.ts';
import type { DeckTemplate } from '../../formats/deck-options.ts';
import { deliverAll, deliverFile, type DeliveredFile, stemOf, type DeliveryRequest } from '../../formats/delivery.ts';
import { gridFor } from '../../formats/grid-for.ts';
import type { StudyManifest } from '../../formats/study-page.ts';
import type { MeshFile } from '../../formats/mesh-file.ts';
import { finish, giveUp } from '../../core/numeric/work.ts';
import {
	type RegionRequest,
	buffersOf,
	Filler,
	type FillSource,
	type RemoteFiller,
	ThreadHelpers
} from '../../core/stages/helpers.ts';
import { parseSettings } from '../../core/recipe/model/settings.ts';
import type { CaseOutcome } from '../study/case-outcome.ts';
import { crashOf } from './crash-of.ts';
import { Packer, type Snapshot } from './snapshot.ts';
import { sentenceOf, UserError } from '../../core/text/user-error.ts';

/** A mesh that is looked at beside the project, with all its measures by key. */
export interface OpenedMesh {
	file: MeshFile;
	quality: Record<string, MeasureResult>;
}

const clock = () => performance.now();
/** As many others of this worker as there are processors beside its own, but no more than so many. */
const mostHelpers = 3;
const helpers = new ThreadHelpers(Math.min(mostHelpers, Math.max(0, navigator.hardwareConcurrency - 1)), startHelper);
const pipeline = new Pipeline(clock, helpers);
/** Of studies: their cases go through one after the other. */
const studies = new Pipeline(clock);
/** A case with more elements has no picture. */
const mostPictured = 100_000;
const files = new Map<string, CoordinateFile>();
/** The run that is wanted; any other gives up at its next breath. */
let wanted = 0;
const packer = new Packer();
let latest: { id: number; result: Result } | undefined;

/** A solid with more sides than this is not pictured. */
const mostSides = 150_000;

/** How long a run goes on before it lets messages in, in milliseconds. */
const yieldInterval = 24;

const filesOf = (table: Record<string, string>): CoordinateFiles =>
	Object.fromEntries(
		Object.entries(table).map(([name, hash]) => [name, files.get(hash) ?? { error: 'the file has not arrived' }])
	);

const letMessagesIn = () =>
	new Promise<void>((resume) => {
		const { port1, port2 } = new MessageChannel();
		port1.onmessage = () => {
			port1.close();
			resume();
		};
		port2.postMessage(null);
	});

/** Another worker of this script, which fills regions for this one. */
function startHelper(): RemoteFiller {
	const worker = new Worker(self.location.href, { type: 'module' });
	const crashed = crashOf(worker);
	const remote = Comlink.wrap<MeshWorker>(worker);
	return {
		fill: (source, names, regions) => Promise.race([remote.fillRegions(source, names, regions), crashed]),
		stop: () => remote.stopFilling(),
		end: () => worker.terminate()
	};
}

/** What this worker fills for another one. */
const ownFills = new Pipeline(clock);
const filler = new Filler((source, regions) => ownFills.someFills(source, regions), letMessagesIn, clock);

/** How long a run that waits for helpers goes without looking whether it is still wanted, in milliseconds. */
const patience = 20;

const api = {
	/** Keeps a coordinate file by its hash; answers why it cannot be read, or nothing. The readers come with the first file. */
	async putFile(hash: string, bytes: Uint8Array): Promise<string | undefined> {
		const { readFileOfRecipe } = await import('../../formats/read-file.ts');
		const file = await readFileOfRecipe(bytes);
		files.set(hash, file);
		return 'error' in file ? file.error : undefined;
	},

	hasFile: (hash: string): boolean => files.has(hash),

	/** Runs a recipe; undefined when it was overtaken or stopped. */
	async run(
		id: number,
		text: string,
		table: Record<string, string>,
		{ askAbove, measure }: { askAbove: number; measure: string },
		onProgress: (progress: number) => void
	): Promise<Snapshot | undefined> {
		wanted = id;
		const work = pipeline.run({ text, files: filesOf(table), askAbove });
		let since = performance.now();
		let step = work.next();
		while (!step.done) {
			const { waiting } = pipeline;
			if (waiting || performance.now() - since > yieldInterval) {
				onProgress(step.value);
				if (waiting) await Promise.race([waiting, new Promise((resume) => setTimeout(resume, patience))]);
				else await letMessagesIn();
				if (wanted !== id) {
					giveUp(work);
					return undefined;
				}
				since = performance.now();
			}
			step = work.next();
		}
		await letMessagesIn();
		if (wanted !== id) return undefined;
		latest = { id, result: step.value };
		const { snapshot, transfer } = packer.pack(step.value, measure);
		return Comlink.transfer(snapshot, transfer);
	},

	/** The edits after which the pieces of `after` are named as in `before`. */
	keepNames(before: string, after: string, table: Record<string, string>): TextEdit[] {
		const read = filesOf(table);
		const old =
			latest?.result.recipe.text === before ? latest.result : new Pipeline(() => 0).shape({ text: before, files: read });
		return keepNames(old, pipeline.shape({ text: after, files: read }));
	},

	/** A text with other units, its numbers converted, or why they cannot be. */
	convertUnits: (text: string, unit: string, table: Record<string, string>) =>
		convertUnits(parseRecipe(text), unit, filesOf(table)),

	/** One measure of the mesh of a finished run. */
	measure(id: number, key: string): MeasureResult | undefined {
		return latest?.id === id ? latest.result.quality.of(key) : undefined;
	},

	stop(): void {
		wanted = 0;
	},

	/** Fills some regions for another worker. */
	async fillRegions(
		source: FillSource,
		names: readonly string[],
		regions: readonly RegionRequest[]
	): ReturnType<RemoteFiller['fill']> {
		const fills = await filler.fill(source, names, regions);
		return fills && Comlink.transfer(fills, buffersOf(fills));
	},

	stopFilling: (): Promise<void> => filler.stop(),

	/** What a template makes of a finished run, cut short. */
	async previewDeck(id: number, template: DeckTemplate): Promise<DeckPreview> {
		if (latest?.id !== id) throw new UserError('the mesh has changed meanwhile; try again');
		const { previewDeck } = await import('../../formats/deck.ts');
		const { result } = latest;
		return previewDeck(gridFor(result, { plane: 'no' }), result, template, `${stemOf(result.model.title)}.txt`);
	},

	/** The surface of the solid that a finished run is delivered as. */
	surface(id: number): Surface | undefined {
		if (latest?.id !== id) throw new UserError('the mesh has changed meanwhile; try again');
		const { mesh, model } = latest.result;
		const solid = solidOf(model);
		if (!solid) return undefined;
		// Its flat sides are looked at too, whether they have names or not.
		const grid = solidGrid(gridOf(mesh, model), { ...solid, sides: solid.sides ?? ['front', 'back'] }, model.frame);
		return surfaceOf(grid, new Map(mesh.groups.map((g) => [g.name, g.colour])), mostSides);
	},

	/** Runs one case of a study; what is wrong with it is part of what it gives. */
	async runCase(
		text: string,
		table: Record<string, string>,
		{ settings, refine }: { settings: Record<string, string>; refine: number }
	): Promise<CaseOutcome> {
		const [{ outcomeOf }, { drawPicture }] = await Promise.all([
			import('../../formats/study.ts'),
			import('../../formats/picture.ts')
		]);
		try {
			const result = finish(studies.run({ text, files: filesOf(table), settings: parseSettings(settings), refine }));
			const outcome = outcomeOf(result);
			const elements = outcome.figures?.elements ?? 0;
			return { ...outcome, picture: elements > 0 && elements <= mostPictured ? drawPicture(result) : '' };
		} catch (error) {
			return { ok: false, message: sentenceOf(error, 'this case'), figures: null, picture: '' };
		}
	},

	/**
	 * Runs all cases of a study and packs all that the recipe delivers of each, laid out as the folder of a study. What fails
	 * fails alone, and its record says why.
	 *
	 * @param onProgress is told how many cases are done
	 */
	async deliverStudy(
		text: string,
		table: Record<string, string>,
		manifest: StudyManifest,
		onProgress: (done: number) => void
	): Promise<{ archive: Blob; failed: number }> {
		const [{ StudyArchive }, { runCase: runOne }] = await Promise.all([
			import('../../formats/study-archive.ts'),
			import('../../formats/study-case.ts')
		]);
		let archive = new Blob([]);
		let chunks: Uint8Array<ArrayBuffer>[] = [];
		const files = new StudyArchive(manifest, (bytes) => chunks.push(new Uint8Array(bytes)));
		let failed = 0;
		for (const [k, one] of manifest.cases.entries()) {
			onProgress(k);
			const { settings, refine } = one;
			const run = () => finish(studies.run({ text, files: filesOf(table), settings: parseSettings(settings), refine }));
			const { record, parts } = await runOne(one, '', run, deliverAll);
			if (!record.ok) failed++;
			files.add(one, record, parts);
			// A browser may put a blob on disk.
			archive = new Blob([archive, ...chunks]);
			chunks = [];
		}
		files.finish();
		return { archive: new Blob([archive, ...chunks], { type: 'application/zip' }), failed };
	},

	/** The mesh of a file, and its measures; throws an Error with a sentence where there is none. */
	async readMesh(bytes: Uint8Array): Promise<OpenedMesh> {
		const { readMeshFile } = await import('../../formats/read-file.ts');
		const file = await readMeshFile(bytes);
		return { file, quality: qualityOf(file).all() };
	},

	/** Writes what is wanted of a finished run. */
	async deliver(id: number, wanted: DeliveryRequest, onProgress: (done: number, of: number) => void): Promise<DeliveredFile> {
		if (latest?.id !== id) throw new UserError('the mesh has changed meanwhile; try again');
		return deliverFile(latest.result, wanted, onProgress);
	}
};

export type MeshWorker = typeof api;

Comlink.expose(api);
