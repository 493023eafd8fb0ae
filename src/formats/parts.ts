import { zipSync } from 'fflate';
import { checkPartName } from './part-name.ts';
import { UserError } from '../core/text/user-error.ts';

/** One file of a delivery. */
export interface Part {
	name: string;
	bytes: Uint8Array;
}

/** A time that is the same in every archive, so that the same mesh gives the same bytes. */
export const always = new Date(Date.UTC(2000, 0, 1, 12));

/** Several files as one ZIP archive, in their order. Throws a {@link UserError} for a name that no file may have. */
export function zipped(parts: readonly Part[]): Uint8Array {
	checkPartNames(parts);
	return zipSync(Object.fromEntries(parts.map(({ name, bytes }) => [name, [bytes, { mtime: always, level: 6 }]])));
}

/** Throws a {@link UserError} where a name is none that a file may have, or two files have one name. */
export function checkPartNames(parts: readonly Part[]): void {
	const taken = new Set<string>();
	for (const { name } of parts) {
		checkPartName(name);
		// Some file systems take capitals and small letters for the same.
		const key = name.toLowerCase();
		if (taken.has(key)) throw new UserError(`two files of one delivery are named “${name}”; give one of them another name`);
		taken.add(key);
	}
}

const encoder = new TextEncoder();

/** Gathers text in pieces that are encoded as they come, so that a long file never stands in one string. */
export class TextSink {
	private readonly chunks: Uint8Array[] = [];
	private open: string[] = [];
	private waiting = 0;
	/** Bytes so far, but for what is not encoded yet. */
	private written = 0;

	/** @param limit more bytes than this are refused with a RangeError */
	constructor(private readonly limit = Infinity) {}

	add(text: string): void {
		this.open.push(text);
		this.waiting += text.length;
		if (this.waiting > 1 << 16) this.flush();
	}

	private flush(): void {
		const bytes = encoder.encode(this.open.join(''));
		this.open = [];
		this.waiting = 0;
		this.chunks.push(bytes);
		this.written += bytes.length;
		if (this.written > this.limit) throw new UserError(`more than ${Math.round(this.limit / 1e6)} MB of text`);
	}

	bytes(): Uint8Array {
		this.flush();
		const all = new Uint8Array(this.written);
		let at = 0;
		for (const chunk of this.chunks) {
			all.set(chunk, at);
			at += chunk.length;
		}
		return all;
	}
}
