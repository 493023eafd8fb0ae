import { sentenceOf } from '../../core/text/user-error.ts';
import { refusalOf } from '../../formats/refusal.ts';
import type { DeliveredFile, DeliveryFormat, DeliveryRequest } from '../../formats/delivery.ts';
import type { Desk } from '../desk/desk.svelte.ts';
import { keepDeliveries, keptDeliveries, markOf, standingOf, type StoredDelivery } from './stored-deliveries.ts';

type Deliverer = Pick<Desk, 'id' | 'text' | 'saver' | 'result' | 'isCurrent' | 'download' | 'lookAtFile'>;

/** What is delivered from the desk: what is being written, what was written, and whether that is still up to date. */
export class Deliveries {
	/** What is being written; empty for nothing. */
	busy = $state('');
	/** What went wrong with the last delivery, as a sentence. */
	problem = $state('');
	/** How many of several deliveries are done. */
	done = $state('');
	/** Whether what is filled is delivered though other regions are not. */
	partial = $state(false);
	/** The files that were delivered since the page was opened, by how each is written. */
	private files = $state.raw<Record<string, DeliveredFile>>({});
	/** What was delivered of this project on this machine: it outlives the page. */
	private delivered = $state.raw<Record<string, StoredDelivery>>({});

	constructor(
		private readonly desk: Deliverer,
		private readonly memory: Pick<Storage, 'getItem' | 'setItem'>,
		private readonly now: () => number = () => performance.now()
	) {
		this.delivered = keptDeliveries(memory, desk.id);
	}

	/** Writes a file and gives it to the browser; `what` names it in the list. */
	async download(what: string, wanted: DeliveryRequest): Promise<void> {
		const { desk, memory } = this;
		this.busy = what;
		this.problem = '';
		try {
			const since = this.now();
			const { text } = desk;
			const file = await desk.download(wanted, (k, of) => (this.done = `${k + 1} of ${of}`));
			this.files = { ...this.files, [what]: file };
			if (file.problems?.length) this.problem = `${file.problems.join('. ')}.`;
			const record = {
				revision: Math.max(1, desk.saver.revision),
				mark: markOf(text),
				bytes: file.bytes.length,
				milliseconds: this.now() - since
			};
			this.delivered = { ...keptDeliveries(memory, desk.id), [what]: record };
			keepDeliveries(memory, desk.id, this.delivered);
		} catch (error) {
			this.problem = sentenceOf(error, 'the delivery');
		} finally {
			this.busy = '';
			this.done = '';
		}
	}

	/** Writes a file in a format that is not asked for in the recipe. */
	downloadFormat({ name, holds }: DeliveryFormat): Promise<void> {
		const isPartial = this.partial && (this.desk.result?.unfilled.length ?? 0) > 0;
		const options = isPartial ? { partial: 'yes' } : {};
		return this.download(name, { format: name, ...(holds === 'mesh' ? { options } : {}) });
	}

	/** Opens a mesh file to be looked at: one that was delivered here, or another. */
	async look(name: string, bytes: Uint8Array): Promise<void> {
		this.problem = '';
		try {
			await this.desk.lookAtFile(name, bytes);
		} catch (error) {
			this.problem = `${name}: ${sentenceOf(error, 'the delivery')}.`;
		}
	}

	/** The file that was delivered so, where it can be looked at again. */
	lookable(what: string): DeliveredFile | undefined {
		const file = this.files[what];
		return file && /\.(cgns|vtu)$/.test(file.name) ? file : undefined;
	}

	/** Whether a format cannot be delivered now. */
	isHeld(format: DeliveryFormat, isPartial = this.partial): boolean {
		const { result, isCurrent } = this.desk;
		const refusal = result && refusalOf(result, format.holds, isPartial);
		return !isCurrent || this.busy !== '' || refusal !== undefined;
	}

	/** How what was delivered last stands, in words; empty where nothing was. */
	standing(what: string): string {
		return standingOf(this.delivered[what], this.desk.text);
	}
}
