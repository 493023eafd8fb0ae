import { getContext, setContext } from 'svelte';
import { SvelteSet } from 'svelte/reactivity';
import type { FileTable, Project } from '../../api/schemas.ts';
import type { Finding } from '../../core/text/finding.ts';
import { unlabelledPieces } from '../../core/domain/groups.ts';
import { elementCount } from '../../core/mesh/mesh.ts';
import type { Result } from '../../core/pipeline.ts';
import { applyEdits } from '../../core/text/edit.ts';
import { deleteThings } from '../../core/recipe/intents.ts';
import { parseRecipe, type Recipe } from '../../core/recipe/parse.ts';
import { pieceNames } from '../../core/domain/references.ts';
import { deliveryName, type DeliveryFormat } from '../../formats/delivery.ts';
import * as api from '../api/client.ts';
import type { ToolName } from '../drawing/tools.ts';
import { Mesher } from './mesher.ts';
import { Saver } from './saver.svelte.ts';

export const stations = ['shape', 'divide', 'fill', 'label', 'deliver'] as const;
export type Station = (typeof stations)[number];

/** Something that can be selected: by its name, so that it survives every new mesh. */
export type ThingKind = 'piece' | 'point' | 'region' | 'group';
export const thingKey = (kind: ThingKind, name: string): string => `${kind} ${name}`;

/** Work shorter than this shows no progress, in milliseconds. */
const patience = 250;

/** How long typing rests before it is a revision, in milliseconds. */
const typingRest = 500;
/** How long a drag may stand still before it is saved all the same, in milliseconds. */
const heldRest = 60_000;

const limitKey = 'tessellon-ask-above';
const usualLimit = 2_000_000;
const storedLimit = () => Number(globalThis.localStorage?.getItem(limitKey)) || usualLimit;

/**
 * The state of the desk. One way: an edit makes a new text; the text makes a new result; views only
 * read.
 */
export class Desk {
	readonly saver: Saver;
	private readonly mesher = new Mesher();
	/** The text before an edit whose names are still being kept. */
	private naming: string | undefined;
	private namingDone: Promise<void> = Promise.resolve();
	private typing: ReturnType<typeof setTimeout> | undefined;
	text = $state.raw('');
	files = $state.raw<FileTable>({});
	recipe: Recipe = $derived(parseRecipe(this.text));
	/** The newest finished result; `isCurrent` says whether it is of the present text. */
	result = $state.raw<Result | undefined>();
	resultId = 0;
	/** Set while a run takes longer than a moment. */
	progress = $state<number | undefined>();
	stopped = $state(false);
	/** More elements than this are made only after a question. */
	askAbove = $state(storedLimit());
	/** How many were agreed to for this project. */
	private agreed = 0;
	isCurrent = $derived(this.result !== undefined && this.result.recipe.text === this.text);

	station = $state<Station>('divide');
	face = $state<'table' | 'recipe'>('table');
	tool = $state<ToolName>('select');
	readonly selection = new SvelteSet<string>();
	hover = $state<string>('');
	measure = $state('scaledJacobian');
	/** Range of the chosen measure whose elements are lit. */
	brush = $state.raw<[number, number] | undefined>();
	colourByQuality = $state(false);
	/** Whether the drawing shows the sizes of elements in Fill: as a tint, with contours. */
	showSizes = $state(false);
	/** A place that the drawing should show, with a new object for every request. */
	showAt = $state.raw<{ x: number; y: number; element?: number } | undefined>();
	/** A short message at the bottom of the drawing. */
	notice = $state('');

	names = $derived(this.result ? pieceNames(this.result.arrangement) : []);
	unlabelled = $derived(
		this.result ? unlabelledPieces(this.result.arrangement, this.result.regions, this.result.mesh.groups) : []
	);
	openEnds = $derived(this.result?.findings.filter((f) => f.code === 'open-end').length ?? 0);
	errors = $derived(this.result?.findings.filter((f) => f.severity === 'error').length ?? 0);
	elements = $derived(this.result ? elementCount(this.result.mesh) : 0);
	ready = $derived(this.isCurrent && this.errors === 0 && this.unlabelled.length === 0 && this.elements > 0);

	constructor(readonly id: string) {
		this.saver = new Saver(id);
	}

	async open(): Promise<void> {
		const project = await api.getProject(this.id);
		this.saver.adopt(project);
		this.replace(project);
		// An empty sheet is there to be drawn on.
		if (!this.recipe.lines.some((l) => l.statement?.kind === 'region')) this.station = 'shape';
	}

	close(): void {
		this.mesher.close();
	}

	/**
	 * Takes text as it is typed: the mesh follows at once, a revision is saved when the typing rests; `held`,
	 * as in a drag, only when it is finished, so that one movement is one step of undo.
	 */
	typeText(text: string, held = false): void {
		if (text === this.text) return;
		this.text = text;
		clearTimeout(this.typing);
		this.typing = setTimeout(() => this.finishTyping(), held ? heldRest : typingRest);
		void this.mesh();
	}

	/** Saves what was typed, if anything waits. */
	finishTyping(label = 'Edit the recipe'): void {
		if (this.typing === undefined) return;
		clearTimeout(this.typing);
		this.typing = undefined;
		this.saver.save(this.text, this.files, label);
	}

	/** Makes a new text current: the mesh follows, and the revision is saved. */
	edit(text: string, label: string, files: FileTable = this.files): void {
		this.finishTyping();
		if (text === this.text && files === this.files) return;
		const before = this.naming ?? this.text;
		this.text = text;
		this.files = files;
		this.notice = '';
		if (numbersPieces(before) && shapeStatements(before) !== shapeStatements(text))
			void this.editKeepingNames(before, text, label);
		else {
			this.naming = undefined;
			this.saver.save(text, files, label);
		}
		void this.mesh();
	}

	/** Saves an edit of the drawing once the numbers of pieces elsewhere follow it; a newer edit takes over from an older one. */
	private async editKeepingNames(before: string, text: string, label: string): Promise<void> {
		this.naming = before;
		this.saver.state = 'saving';
		const edits = await this.mesher.keepNames(before, text, this.files).catch(() => []);
		if (this.naming !== before || this.text !== text) return;
		this.naming = undefined;
		if (edits.length > 0) {
			this.text = applyEdits(text, edits);
			void this.mesh();
		}
		this.saver.save(this.text, this.files, label);
	}

	mend(finding: Finding): void {
		if (finding.mend && this.isCurrent) this.edit(applyEdits(this.text, finding.mend.edits), finding.mend.label);
	}

	/** Whether the server does not have everything yet. */
	get unsaved(): boolean {
		return this.saver.unsaved || this.naming !== undefined;
	}

	async undo(): Promise<void> {
		this.finishTyping();
		await this.namingDone;
		this.take(await this.saver.travel(api.undo));
	}

	async redo(): Promise<void> {
		this.finishTyping();
		await this.namingDone;
		this.take(await this.saver.travel(api.redo));
	}

	async restore(number: number): Promise<void> {
		await this.namingDone;
		this.take(await this.saver.travel((id, etag) => api.restore(id, etag, number)));
	}

	/** After a conflict: shows the other state. */
	takeTheirs(): void {
		this.take(this.saver.takeTheirs());
	}

	private take(project: Project | undefined): void {
		if (project) this.replace(project);
	}

	private replace(project: Project): void {
		this.text = project.text;
		this.files = project.files;
		void this.mesh();
	}

	/** Runs the pipeline on the present text. While something is dragged, results of what it passed by are shown as well. */
	async mesh(): Promise<void> {
		this.stopped = false;
		const started = performance.now();
		const { text } = this;
		const done = await this.mesher.run(text, this.files, Math.max(this.askAbove, this.agreed), (progress) => {
			if (performance.now() - started > patience) this.progress = progress;
		});
		if (!done) return;
		if (text === this.text) this.progress = undefined;
		this.brush = undefined;
		this.result = done.result;
		this.resultId = done.id;
	}

	/** Fills what was held back, and as much again without a question. */
	agree(elements: number): void {
		this.agreed = elements;
		void this.mesh();
	}

	/** From how many elements on the desk asks first; kept for all projects in this browser. */
	setLimit(elements: number): void {
		this.askAbove = elements;
		this.agreed = 0;
		localStorage.setItem(limitKey, String(elements));
		void this.mesh();
	}

	stop(): void {
		this.mesher.stop();
		this.progress = undefined;
		this.stopped = true;
	}

	/** Stores a coordinate file; answers what is wrong with it, or its hash. */
	async addFile(bytes: Uint8Array): Promise<{ hash: string } | { error: string }> {
		const { hash } = await api.storeFile(bytes);
		const error = await this.mesher.putFile(hash, bytes);
		return error ? { error } : { hash };
	}

	/** Writes the present mesh and hands it to the browser as a download. */
	async download(format: DeliveryFormat): Promise<void> {
		const bytes = await this.mesher.deliver(this.resultId, format.ending);
		saveAs(deliveryName(this.result!.model.title, format.ending), new Blob([new Uint8Array(bytes)], { type: format.mediaType }));
	}

	downloadRecipe(): void {
		saveAs(deliveryName(this.result?.model.title ?? '', 'tessellon'), new Blob([this.text], { type: 'text/plain' }));
	}

	isSelected(kind: ThingKind, name: string): boolean {
		return this.selection.has(thingKey(kind, name));
	}

	/** Names of the selected things of a kind. */
	selected(kind: ThingKind): string[] {
		return [...this.selection].filter((key) => key.startsWith(`${kind} `)).map((key) => key.slice(kind.length + 1));
	}

	select(keys: readonly string[], add: boolean): void {
		if (add) {
			// Adding what is selected already takes it away, when it is a single thing.
			for (const key of keys)
				if (keys.length === 1 && this.selection.has(key)) this.selection.delete(key);
				else this.selection.add(key);
			return;
		}
		this.selection.clear();
		for (const key of keys) this.selection.add(key);
	}

	/** Deletes what is selected, with what other statements say of it. */
	deleteSelected(): void {
		const values = [...this.selected('point'), ...this.selected('piece').map((p) => p.replace(/\[\d+\]$/, '').split('.', 1)[0]!)];
		const regions = this.selected('region').map((r) => r.replace(/\[\d+\]$/, ''));
		const text = deleteThings(this.recipe, { values, regions, groups: this.selected('group') });
		this.selection.clear();
		this.edit(text, `Delete ${values.length === 1 ? values[0] : 'selection'}`);
	}
}

/** Whether a text counts pieces anywhere, as in `wall[2]`. */
const numbersPieces = (text: string) => /\w\[\d+\]/.test(text);

/** The lines of a text that make the drawing. */
const shapeStatements = (text: string) => text.replace(/^(?:title|region|divide|fill|size|group)\s.*$/gm, '');

/** Hands a file to the browser as a download. */
function saveAs(name: string, content: Blob): void {
	const link = document.createElement('a');
	link.href = URL.createObjectURL(content);
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

const key = Symbol('desk');
export const provideDesk = (desk: Desk): Desk => setContext(key, desk);
export const useDesk = (): Desk => getContext<Desk>(key);
