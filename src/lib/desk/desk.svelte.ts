import { irregularNodes } from '../../core/quality/irregular.ts';
import { getContext, setContext } from 'svelte';
import type { SvelteSet } from 'svelte/reactivity';
import type { FileTable, Project } from '../../api/schemas.ts';
import { concernsLabels } from '../../core/findings/table.ts';
import { unlabelledPieces } from '../../core/domain/groups.ts';
import { pieceNames } from '../../core/domain/references.ts';
import { elementCount } from '../../core/mesh/mesh.ts';
import { broughtUpToDate } from '../../core/recipe/model/evaluate.ts';
import type { Model } from '../../core/recipe/model/model.ts';
import { addStatement, placementsOf, setClause } from '../../core/recipe/edits/edits.ts';
import { setUnits } from '../../core/recipe/edits/convert-units.ts';
import { deletion, type Deletions, otherGroups } from '../../core/recipe/edits/intents.ts';
import { rename } from '../../core/recipe/edits/naming.ts';
import { lineIn } from '../../core/recipe/edits/same-statement.ts';
import { partsOf } from '../../core/recipe/edits/placements.ts';
import { keptInPart, sheetOf } from '../../core/recipe/edits/part-sheet.ts';
import { notify } from '../controls/toaster.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import { linesOf } from '../../core/recipe/language/statement.ts';
import { region } from '../../core/recipe/statements/region.ts';
import { title as titleStatement } from '../../core/recipe/statements/title.ts';
import { applyEdits, type TextEdit } from '../../core/text/edit.ts';
import { formatted } from '../../core/recipe/language/format.ts';
import type { Finding, Mend } from '../../core/text/finding.ts';
import type { Surface } from '../../core/solid/surface.ts';
import type { DeckPreview } from '../../formats/deck.ts';
import type { DeckTemplate } from '../../formats/deck-options.ts';
import { type DeliveredFile, deliveryName, type DeliveryRequest } from '../../formats/delivery.ts';
import { type FileRow, rowKey, rowOf, withoutFilePoints } from '../drawing/file-points.ts';
import type { LayerColours } from '../drawing/layer-colours.ts';
import * as api from '../api/client.ts';

import { Mesher } from './mesher.ts';
import type { OpenedMesh } from './mesh.worker.ts';
import { Meshing } from './meshing.svelte.ts';
import { Naming } from './naming.ts';
import { Offers } from './offers.ts';
import { Saver } from './saver.svelte.ts';
import { Selection, thingKey, type ThingKind } from './selection.svelte.ts';
import type { DeskResult } from './snapshot.ts';
import { typedLabel, TypingRest } from './typing-rest.ts';

import { browserMemory } from '../storage/browser-memory.ts';
import { UserError } from '../../core/text/user-error.ts';
import { type StudyKeeper } from '../study/study-runner.svelte.ts';

export { thingKey } from './selection.svelte.ts';

export const stations = ['shape', 'divide', 'fill', 'label', 'deliver'] as const;
export type Station = (typeof stations)[number];

const limitKey = 'tessellon-ask-above';
const usualLimit = 2_000_000;
const storedLimit = () => Number(browserMemory.getItem(limitKey)) || usualLimit;

/**
 * The state of the desk. One way: an edit makes a new text; the text makes a new result; views only
 * read.
 */
export class Desk {
	readonly saver: Saver;
	private readonly mesher = new Mesher();
	readonly meshing = new Meshing(this.mesher, storedLimit(), () => performance.now());
	readonly picked = new Selection();
	private readonly typing = new TypingRest((label) => this.saveTyped(label));
	private readonly naming = new Naming(
		(before, after) => this.mesher.keepNames(before, after, this.files),
		(text, edits, label) => this.named(text, edits, label)
	);
	/** What the desk shows and edits: the recipe, or the part that is open as a sheet of its own. */
	text = $state.raw('');
	/** The name of the part that is open; empty where the whole recipe is. */
	sheet = $state('');
	/** The whole recipe as it was when a part was opened, or last saved. */
	private whole = '';
	/** Whether regions, fills, labels and the like go along with curves that are moved or copied. */
	takesAlong = $state(true);
	/** The part that the tool for placing one places. */
	placing = $state('');
	files = $state.raw<FileTable>({});
	recipe: Recipe = $derived(parseRecipe(this.text));
	/** What the newest text draws: the last result, and the statements that are newer. */
	newest: Model | undefined = $derived(this.meshing.result && broughtUpToDate(this.meshing.result.model, this.recipe));
	isCurrent = $derived(this.meshing.result !== undefined && this.meshing.result.recipe.text === this.text);

	station = $state<Station>('divide');
	face = $state<'table' | 'recipe'>('table');
	tool = $state<string>('select');
	/** Range of the chosen measure whose elements are lit. */
	brush = $state.raw<[number, number] | undefined>();
	colourByQuality = $state(false);
	/** Nodes at which other than four quadrilaterals meet. */
	irregular = $derived(this.result && this.result.mesh.quads.length > 0 ? irregularNodes(this.result.mesh) : undefined);
	/** Whether they are marked. */
	marksIrregular = $state(false);
	/** Whether the drawing shows the sizes of elements in Fill: as a tint, with contours. */
	showSizes = $state(false);
	/** Layers in the colours of what is plotted along them. */
	layerColours = $state.raw<LayerColours | undefined>();
	/** A place that the drawing should show, with a new object for every request; `reach` is how large the thing is. */
	showAt = $state.raw<{ x: number; y: number; reach?: number } | undefined>();
	/** A place along a wall or a chain that drawing and plot look at together. */
	lookAt = $state.raw<{ x: number; y: number } | undefined>();
	/** A short message at the bottom of the drawing. */
	notice = $state('');
	/** What is being renamed, and where on the screen. */
	renaming = $state.raw<{ kind: ThingKind; name: string; left: number; top: number } | undefined>();
	/** What open views offer to commands. */
	readonly offers = new Offers();
	/** A statement that the next edit needs, like the `let` of a number that was named where it is typed. */
	needed: string | undefined;

	names = $derived(this.result ? pieceNames(this.result.arrangement) : []);
	unlabelled = $derived(
		this.result ? unlabelledPieces(this.result.arrangement, this.result.regions, this.result.mesh.groups) : []
	);
	openEnds = $derived(this.result?.findings.filter((f) => f.code === 'open-end' || f.code === 'inner-edge').length ?? 0);
	errors = $derived(this.result?.findings.filter((f) => f.severity === 'error').length ?? 0);
	elements = $derived(this.result ? elementCount(this.result.mesh) : 0);
	/** Findings about the labels: with any of them nothing is ready. */
	labelProblems = $derived(this.result?.findings.filter(concernsLabels) ?? []);
	ready = $derived(
		this.isCurrent && this.errors === 0 && this.unlabelled.length === 0 && this.labelProblems.length === 0 && this.elements > 0
	);

	constructor(readonly id: string) {
		this.saver = new Saver(id, (etag) => this.windows?.postMessage(etag));
	}

	/** Tells other windows of this browser that show the project of its new state. */
	private windows: BroadcastChannel | undefined;

	/** Loads changes from other machines when the window gets the focus. */
	readonly lookAgain = async (): Promise<void> => {
		const project = this.loaded ? await api.getProject(this.id).catch(() => undefined) : undefined;
		if (project) this.takeUp(project);
	};

	/** Whether the project's text is here; until then there is nothing to show. */
	loaded = $state(false);

	async open(): Promise<void> {
		const project = await api.getProject(this.id);
		this.saver.adopt(project);
		this.loaded = true;
		this.replace(project);
		this.document = project.document ?? '';
		this.windows = new BroadcastChannel(`tessellon ${this.id}`);
		this.windows.onmessage = ({ data }: MessageEvent<string>) => void this.catchUp(data);
		if (this.document !== '') this.stopFollowing = api.followProject(this.id, (etag) => void this.catchUp(etag));
		// An empty sheet is there to be drawn on.
		if (linesOf(this.recipe.lines, region).length === 0) this.station = 'shape';
	}

	/** The name of the file on disk that is the document, where there is one. */
	document = $state('');
	private stopFollowing = () => {};

	/** Loads what another editor or window saved, unless changes here are not saved yet: their save reports the conflict. */
	private async catchUp(etag: string): Promise<void> {
		if (this.saver.knows(etag) || this.typing.waits || this.naming.waits) return;
		const project = await api.getProject(this.id).catch(() => undefined);
		if (project) this.takeUp(project);
	}

	private takeUp(project: Project): void {
		if (this.saver.knows(project.etag) || this.typing.waits || this.naming.waits) return;
		this.saver.adopt(project);
		this.take(project);
	}

	/** Goes to a station: its table, with no tool. */
	go(station: Station): void {
		if (station === 'deliver' && this.sheet !== '') {
			notify(`The part ${this.sheet} is delivered where it is placed: go back to the whole drawing for that.`);
			return;
		}
		this.station = station;
		this.tool = 'select';
		this.face = 'table';
	}

	/** Brings what a finding is about into sight. */
	show({ at, pieces }: Finding): void {
		const { arrangement } = this.result ?? {};
		if (!at || !arrangement) return;
		const lengths = pieces?.map((p) => arrangement.pieces[p]?.length ?? 0) ?? [];
		this.showAt = { ...at, reach: lengths.length > 0 ? Math.max(...lengths) : arrangement.diagonal / 400 };
	}

	close(): void {
		this.stopFollowing();
		this.windows?.close();
		this.mesher.close();
	}

	get result(): DeskResult | undefined {
		return this.meshing.result;
	}

	get selection(): SvelteSet<string> {
		return this.picked.keys;
	}

	get hover(): string {
		return this.picked.hover;
	}

	set hover(key: string) {
		this.picked.hover = key;
	}

	/** The measure that histogram and colours show. */
	get measure(): string {
		return this.meshing.measureKey;
	}

	set measure(key: string) {
		this.brush = undefined;
		void this.meshing.look(key);
	}

	/**
	 * Takes text as it is typed: the mesh follows at once, a revision is saved when the typing rests; `held`,
	 * as in a drag, only when it is finished, so that one movement is one step of undo.
	 */
	typeText(text: string, held = false): void {
		if (text === this.text) return;
		this.text = text;
		this.typing.touch(held);
		void this.mesh();
	}

	/** Whether the last revision was typed and left a statement half done; what is typed next goes on with it. */
	private isHalfTyped = false;

	/** Saves what was typed or dragged; typing that rests within a statement is one step of undo with what comes after. */
	private saveTyped(label: string): void {
		const isTyped = label === typedLabel;
		this.saver.save(this.wholeText(), this.files, label, isTyped && this.isHalfTyped);
		this.isHalfTyped = isTyped && this.recipe.lines.some(({ statement }) => !statement);
	}

	/** Brings what an editor holds back for a moment. */
	bringTyped: () => void = () => {};

	/** Saves what was typed, if anything waits. */
	finishTyping(label?: string): void {
		this.bringTyped();
		this.typing.finish(label);
	}

	/** Makes a new text current: the mesh follows, and the revision is saved. */
	edit(text: string, label: string, files: FileTable = this.files): void {
		this.finishTyping();
		if (this.needed !== undefined) text = applyEdits(text, addStatement(parseRecipe(text), this.needed));
		this.needed = undefined;
		if (text === this.text && files === this.files) return;
		const before = this.text;
		this.isHalfTyped = false;
		this.text = text;
		this.files = files;
		this.notice = '';
		this.naming.edit(before, text, label);
		if (this.naming.waits) this.saver.state = 'saving';
		void this.mesh();
	}

	/** An edit has what it needs for pieces elsewhere to keep their names. */
	private named(text: string, edits: TextEdit[], label: string): void {
		if (this.text !== text) return;
		if (edits.length > 0) {
			this.text = applyEdits(text, edits);
			void this.mesh();
		}
		this.saver.save(this.wholeText(), this.files, label);
	}

	/** The whole recipe: where a part is open, with the part as it is now. */
	private wholeText(): string {
		if (this.sheet === '') return this.text;
		this.whole = keptInPart(parseRecipe(this.whole), this.sheet, this.text);
		return this.whole;
	}

	/** Opens a part as a sheet of its own, or with an empty name goes back to the whole recipe. */
	async openPart(name: string): Promise<void> {
		this.finishTyping();
		await this.naming.finished;
		const whole = this.wholeText();
		const text = name === '' ? whole : sheetOf(parseRecipe(whole), name);
		if (text === undefined) return;
		this.whole = whole;
		this.sheet = name;
		this.turnTo(text);
	}

	/** The part that is placed by clicks: the chosen one, or the last. */
	get partToPlace(): string | undefined {
		const parts = partsOf(this.recipe);
		return (parts.find(({ name }) => name === this.placing) ?? parts.at(-1))?.name;
	}

	/** Shows a text anew: another sheet, with nothing selected. */
	private turnTo(text: string): void {
		this.selection.clear();
		this.isHalfTyped = false;
		this.text = text;
		this.tool = 'select';
		if (this.sheet !== '' && this.station === 'deliver') this.station = 'shape';
		void this.mesh().then(() => this.offers.run('fit'));
	}

	/** Writes the recipe in its one form. */
	format(): void {
		this.bringTyped();
		const edits = formatted(this.recipe);
		if (edits.length > 0) this.edit(applyEdits(this.text, edits), 'Format the recipe');
	}

	mend({ label, edits }: Mend): void {
		if (this.isCurrent) this.edit(applyEdits(this.text, edits), label);
	}

	/** Whether the server does not have everything yet. */
	get unsaved(): boolean {
		return this.saver.unsaved || this.naming.waits;
	}

	undo(): Promise<void> {
		return this.travel(api.undo, () => this.saver.canUndo);
	}

	redo(): Promise<void> {
		return this.travel(api.redo, () => this.saver.canRedo);
	}

	restore(number: number): Promise<void> {
		return this.travel((id, etag) => api.restore(id, etag, number));
	}

	/** Goes through the history, after everything that waits is saved. */
	private async travel(step: (id: string, etag: string) => Promise<Project>, isPossible?: () => boolean): Promise<void> {
		this.finishTyping();
		this.isHalfTyped = false;
		await this.naming.finished;
		this.take(await this.saver.travel(step, isPossible));
	}

	/** After a conflict: shows the other state. */
	takeTheirs(): void {
		this.take(this.saver.takeTheirs());
	}

	private take(project: Project | undefined): void {
		if (project) this.replace(project);
	}

	private replace(project: Project): void {
		this.whole = project.text;
		this.files = project.files;
		const sheet = this.sheet === '' ? undefined : sheetOf(parseRecipe(project.text), this.sheet);
		// A part that is no longer there is no longer open.
		if (sheet === undefined) this.sheet = '';
		this.text = sheet ?? project.text;
		void this.mesh();
	}

	/** Where what comes of a study of the present recipe is kept: with the revision that it was run of. */
	studyKeeper(study: string): StudyKeeper {
		const { text, id, saver } = this;
		let saved: number | undefined;
		const revision = async (): Promise<number> => {
			await saver.flush();
			if (saver.state === 'saved' && this.text === text) saved ??= saver.revision;
			if (saved === undefined) throw new UserError('the recipe itself is not saved yet');
			return saved;
		};
		return {
			load: async () => {
				await revision();
				return (await api.getStudyResults(id, study)).results;
			},
			keep: async (results) => api.keepStudyResults(id, study, await revision(), results)
		};
	}

	/** Runs the pipeline on the present text. */
	async mesh(): Promise<void> {
		const before = this.result;
		await this.meshing.run(this.text, this.files);
		if (this.result !== before) this.brush = undefined;
		if (this.meshing.failure) notify(this.meshing.failure);
	}

	/** Fills what was held back, and as much again without a question. */
	agree(elements: number): void {
		this.meshing.agree(elements);
		void this.mesh();
	}

	/** From how many elements on the desk asks first; kept for all projects in this browser. */
	setLimit(elements: number): void {
		this.meshing.setLimit(elements);
		browserMemory.setItem(limitKey, String(elements));
		void this.mesh();
	}

	stop(): void {
		this.meshing.stop();
	}

	/** Stores a coordinate file; answers what is wrong with it, or its hash. */
	async addFile(bytes: Uint8Array, { plain = false } = {}): Promise<{ hash: string } | { error: string }> {
		const { hash } = await api.storeFile(bytes);
		const error = await this.mesher.putFile(hash, bytes);
		// Plain text, like a template, need hold no drawing.
		return error && !plain ? { error } : { hash };
	}

	/** Writes what is wanted of the present mesh and hands it to the browser as a download; answers with it. */
	async download(wanted: DeliveryRequest, onProgress: (done: number, of: number) => void): Promise<DeliveredFile> {
		const file = await this.mesher.deliver(this.meshing.id, wanted, onProgress);
		const { name, bytes, mediaType } = file;
		saveAs(name, new Blob([new Uint8Array(bytes)], { type: mediaType }));
		return file;
	}

	/** The mesh file that is looked at beside the project. */
	looking = $state.raw<{ name: string; bytes: Uint8Array; looked: OpenedMesh } | undefined>();

	/** Opens a mesh file to be looked at; throws an Error with a sentence where it is none. */
	async lookAtFile(name: string, bytes: Uint8Array): Promise<void> {
		this.looking = { name, bytes, looked: await this.mesher.readMesh(bytes) };
	}

	/** Ends a delivery that is being written. */
	stopDelivery(): void {
		this.mesher.stopDelivery();
		// The worker that wrote it is gone, with its mesh.
		void this.mesh();
	}

	/** What a template makes of the present mesh, cut to its first lines. */
	previewDeck(template: DeckTemplate): Promise<DeckPreview> {
		return this.mesher.previewDeck(this.meshing.id, template);
	}

	/** The surface of the solid that the present mesh is delivered as; undefined where there are too many sides. */
	surface(): Promise<Surface | undefined> {
		return this.mesher.surface(this.meshing.id);
	}

	downloadRecipe(): void {
		saveAs(deliveryName(this.result?.model.title ?? '', 'tessellon'), new Blob([this.wholeText()], { type: 'text/plain' }));
	}

	/** Where a statement of what is shown stands in the present text, which may be newer; −1 where it is gone. */
	lineNow(line: number): number {
		return this.result ? lineIn(this.recipe, this.result.recipe, line) : -1;
	}

	isSelected(kind: ThingKind, name: string): boolean {
		return this.picked.has(kind, name);
	}

	/** Selects all that the station shows. */
	selectAll(): void {
		const { result } = this;
		if (!result) return;
		const keys =
			this.station === 'fill'
				? result.regions.map((r) => thingKey('region', r.name))
				: this.names.map((name) => thingKey('piece', name));
		this.select(keys, false);
	}

	/** Names of the selected things of a kind. */
	selected(kind: ThingKind): string[] {
		return this.picked.names(kind);
	}

	select(keys: readonly string[], add: boolean): void {
		this.picked.take(keys, add);
	}

	/** Deletes what is selected, with what other statements say of it, and tells what else went. */
	deleteSelected(): void {
		const rows = this.selected('row').map(rowOf);
		if (rows.length > 0) {
			this.dropRows(rows);
			return;
		}
		const values = [...this.selected('point'), ...this.selected('piece').map(curveOf)].map((name) => this.ownerOf(name));
		const things = {
			values: values.filter((name, k) => values.indexOf(name) === k),
			regions: this.selected('region').map((r) => r.replace(/\[\d+\]$/, '')),
			groups: this.selected('group')
		};
		this.delete(things);
	}

	/** Leaves points out of curves that come from files: the curves stay selected. */
	private dropRows(rows: readonly FileRow[]): void {
		const left = this.result && this.isCurrent ? withoutFilePoints(this.result, rows) : undefined;
		for (const row of rows) this.selection.delete(rowKey(row));
		if (left) this.edit(left.text, left.label);
		else notify('These points cannot be left out: the curve was changed after it was read from its file.');
	}

	/** The name that the statement of a curve or a point defines: a rectangle's for its sides, a placement's for what it brings. */
	private ownerOf(name: string): string {
		return placementsOf(this.recipe)(name) ?? name.split('.', 1)[0]!;
	}

	/** Deletes things by name, with what other statements say of them, and tells what else went. */
	delete(things: Required<Deletions>): void {
		const names = Object.values(things).flat();
		if (names.length === 0) return;
		const { text, also } = deletion(this.recipe, things);
		const what = names.length > 3 ? `${names.length} things` : names.join(', ');
		this.selection.clear();
		this.edit(text, `Delete ${what}`);
		if (also.length > 0)
			notify(
				`Deleted ${what}, and with it: ${also.slice(0, 4).join('; ')}${also.length > 4 ? `; and ${also.length - 4} more` : ''}.`,
				{ action: { label: 'Bring it back', onClick: () => void this.undo() } }
			);
	}

	/** Labels pieces as a group; what that takes from other groups is said, with a way back. */
	label(text: string, group: string, label: string): void {
		const { less, gone } = otherGroups(this.recipe, text, group);
		this.edit(text, label);
		const said = [
			...(less.length > 0 ? [`taken out of ${less.join(', ')}`] : []),
			...(gone.length > 0
				? [`${gone.join(', ')} had no other piece and ${gone.length === 1 ? 'is' : 'are'} gone, with its kind`]
				: [])
		];
		if (said.length > 0)
			notify(`Now in ${group}; ${said.join('; ')}.`, { action: { label: 'Bring it back', onClick: () => void this.undo() } });
	}

	/** Gives a thing another name, everywhere; answers why it cannot have it, or nothing. */
	rename(kind: ThingKind, from: string, to: string): string | undefined {
		const space = kind === 'region' || kind === 'group' ? kind : 'value';
		const source = kind === 'piece' ? this.ownerOf(curveOf(from)) : from.replace(/\[\d+\]$/, '');
		const done = rename(this.recipe, space, source, to);
		if ('error' in done) return done.error;
		if (done.text !== this.text) {
			this.edit(done.text, `Rename ${source} to ${to}`);
			this.selection.clear();
			if (kind !== 'piece') this.select([thingKey(kind, to)], false);
		}
		return undefined;
	}

	/** Sets the title and warns if another project has the same one, because files are named after it. */
	retitle(typed: string): void {
		const title = typed.replaceAll('"', '').trim();
		const line = linesOf(this.recipe.lines, titleStatement)[0]?.line;
		if (title === '' || title === this.result?.model.title) return;
		this.edit(
			applyEdits(this.text, line ? setClause(line, 'title', `"${title}"`) : addStatement(this.recipe, `title "${title}"`)),
			`Title ${title}`
		);
		void api
			.listProjects()
			.catch(() => [])
			.then((projects) => {
				if (projects.some((other) => other.id !== this.id && other.title.toLowerCase() === title.toLowerCase()))
					notify(`Another project is called “${title}” too: files of both get the same name.`);
			});
	}

	/** Another unit of length; the numbers stay, or are converted. Answers why they cannot be, or nothing. */
	async changeUnits(unit: string, converts: boolean): Promise<string | undefined> {
		if (this.sheet !== '') return 'the units are those of the whole drawing; go back to it first';
		this.finishTyping();
		const { text } = this;
		const done = converts ? await this.mesher.convertUnits(text, unit, this.files) : { text: setUnits(this.recipe, unit) };
		if ('error' in done) return done.error;
		if (this.text !== text) return 'the recipe has changed meanwhile; try again';
		this.edit(done.text, `Units ${unit}${converts ? ', numbers converted' : ''}`);
		return undefined;
	}
}

/** The curve that a piece is of, by names. */
const curveOf = (piece: string) => piece.replace(/\[\d+\]$/, '');

/** Hands a file to the browser as a download. */
export function saveAs(name: string, content: Blob): void {
	const link = document.createElement('a');
	link.href = URL.createObjectURL(content);
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

const key = Symbol('desk');
export const provideDesk = (desk: Desk): Desk => setContext(key, desk);
export const useDesk = (): Desk => getContext<Desk>(key);
