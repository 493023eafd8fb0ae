import type { FileTable, NewRevision, Project } from '../../api/schemas.ts';
import * as api from '../api/client.ts';
import { sentenceOf } from '../../core/text/user-error.ts';

export type SaveState = 'saved' | 'saving' | 'offline' | 'refused' | 'conflict';

/** How long to wait before trying a lost server again, in milliseconds. */
const retryDelay = 1500;
/** How long before what the server refused is tried again, in milliseconds. */
const refusedDelay = 8000;

/**
 * Sends revisions to the server one after another, each on top of the one before. Nothing waiting
 * is ever thrown away: without a server it is tried again; after a change elsewhere it waits for
 * the user's word.
 */
export class Saver {
	state = $state<SaveState>('saved');
	revision = $state(0);
	canUndo = $state(false);
	canRedo = $state(false);
	/** After a conflict: the project as it is on the server. */
	theirs = $state.raw<Project | undefined>();
	/** A refusal that is neither lost connection nor conflict: what the server said, and since when nothing is saved, in milliseconds of the epoch. */
	refusal = $state('');
	refusedSince = $state<number | undefined>();
	private wake: () => void = () => {};
	private etag = '';
	private readonly queue: NewRevision[] = [];
	private running: Promise<void> | undefined;
	/** The last step through the history that was asked for. */
	private travelling: Promise<unknown> = Promise.resolve();

	/** @param onstep is told of every state that the server came to by what was done here, by its ETag */
	constructor(
		private readonly id: string,
		private readonly onstep: (etag: string) => void = () => {}
	) {}

	/** Takes over what the server says. */
	adopt(project: Project): void {
		this.etag = project.etag;
		this.revision = project.revision;
		this.canUndo = project.canUndo;
		this.canRedo = project.canRedo;
	}

	/** Whether the server is known to be at a revision, or is about to receive one. */
	knows(etag: string): boolean {
		return etag === this.etag || this.unsaved || this.state !== 'saved';
	}

	/** @param goesOn with what the revision before left half done: one undo takes back both */
	save(text: string, files: FileTable, label: string, goesOn = false): void {
		this.queue.push({ text, files, label, ...(goesOn ? { goesOn } : {}) });
		this.wake();
		void this.flush();
	}

	get unsaved(): boolean {
		return this.queue.length > 0;
	}

	/** Sends all that waits; settles when the queue is empty or stuck. */
	flush(): Promise<void> {
		if (this.state === 'conflict') return Promise.resolve();
		return (this.running ??= this.send().finally(() => (this.running = undefined)));
	}

	private async send(): Promise<void> {
		while (this.queue.length > 0) {
			this.state = 'saving';
			try {
				const project = await api.addRevision(this.id, this.etag, this.queue[0]!);
				this.queue.shift();
				this.adopt(project);
				this.onstep(project.etag);
			} catch (error) {
				if (!(error instanceof api.ServerRefusal)) {
					this.state = 'offline';
					await this.pause(retryDelay);
					continue;
				}
				if (error.status === 412 && error.current) {
					// An answer that got lost on its way: our own revision is there already.
					if (error.current.text === this.queue[0]!.text) {
						this.queue.shift();
						this.adopt(error.current);
						continue;
					}
					this.theirs = error.current;
					this.state = 'conflict';
					return;
				}
				this.refusal = error.message;
				this.refusedSince ??= Date.now();
				this.state = 'refused';
				// What is wrong with this text may be mended in the next, which holds everything that it does.
				const isOfText = error.status < 500 && error.status !== 408 && error.status !== 429;
				if (isOfText && this.queue.length > 1) this.queue.shift();
				else await this.pause(refusedDelay);
				continue;
			}
			this.refusal = '';
			this.refusedSince = undefined;
		}
		this.state = 'saved';
	}

	/** Waits, but no longer than until something new is to be saved. */
	private pause(milliseconds: number): Promise<void> {
		return new Promise((resume) => {
			const timer = setTimeout(resume, milliseconds);
			this.wake = () => {
				clearTimeout(timer);
				resume();
			};
		});
	}

	/** Tries at once what was refused. */
	retry(): void {
		this.wake();
		void this.flush();
	}

	/** After a conflict: puts what was made here on top of the change elsewhere. */
	keepMine(): void {
		const theirs = this.theirs;
		if (!theirs) return;
		this.adopt(theirs);
		this.theirs = undefined;
		this.state = 'saving';
		void this.flush();
	}

	/** After a conflict: gives up what waits and answers the project as it is on the server. */
	takeTheirs(): Project | undefined {
		const theirs = this.theirs;
		if (!theirs) return undefined;
		this.queue.length = 0;
		this.adopt(theirs);
		this.theirs = undefined;
		this.state = 'saved';
		return theirs;
	}

	/**
	 * Undo, redo or restore, after everything waiting is saved and every earlier step is done.
	 *
	 * @param isPossible whether the step is there then: undo may be asked for more often than there is something to undo
	 */
	travel(
		step: (id: string, etag: string) => Promise<Project>,
		isPossible: () => boolean = () => true
	): Promise<Project | undefined> {
		const done = this.travelling.then(() => this.take(step, isPossible));
		this.travelling = done;
		return done;
	}

	private async take(
		step: (id: string, etag: string) => Promise<Project>,
		isPossible: () => boolean
	): Promise<Project | undefined> {
		await this.flush();
		if (this.state !== 'saved' || !isPossible()) return undefined;
		try {
			const project = await step(this.id, this.etag);
			this.adopt(project);
			this.onstep(project.etag);
			return project;
		} catch (error) {
			if (error instanceof api.ServerRefusal && error.status === 412 && error.current) {
				this.theirs = error.current;
				this.state = 'conflict';
			} else if (!(error instanceof api.ServerRefusal && error.status === 409)) this.refusal = sentenceOf(error, 'this step');
			return undefined;
		}
	}
}
