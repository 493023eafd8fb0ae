/** What was delivered of a project on this machine: how large, how long it took, and of which text and revision. */
export interface StoredDelivery {
	revision: number;
	/** Of the text, to tell whether it has changed since. */
	mark: string;
	bytes: number;
	milliseconds: number;
}

const keyOf = (project: string) => `delivered:${project}`;

/** A short mark of a text (FNV-1a, 32 bits), and its length: another text has another. */
export function markOf(text: string): string {
	let hash = 0x811c9dc5;
	for (let k = 0; k < text.length; k++) hash = Math.imul(hash ^ text.charCodeAt(k), 0x01000193) >>> 0;
	return `${hash.toString(16)}-${text.length}`;
}

/** The deliveries of a project, by how each is written; none where the browser keeps nothing, or something else. */
export function keptDeliveries(storage: Pick<Storage, 'getItem'>, project: string): Record<string, StoredDelivery> {
	try {
		const read = JSON.parse(storage.getItem(keyOf(project)) ?? '{}') as Record<string, StoredDelivery>;
		return Object.fromEntries(
			Object.entries(read).filter(([, d]) => typeof d.mark === 'string' && d.bytes >= 0 && d.milliseconds >= 0 && d.revision > 0)
		);
	} catch {
		return {};
	}
}

export function keepDeliveries(
	storage: Pick<Storage, 'setItem'>,
	project: string,
	deliveries: Record<string, StoredDelivery>
): void {
	storage.setItem(keyOf(project), JSON.stringify(deliveries));
}

/** How a delivery stands in words: of the present text its size and time; otherwise that it is stale. */
export function standingOf(last: StoredDelivery | undefined, text: string): string {
	if (!last) return '';
	if (last.mark !== markOf(text)) return `stale: changed since revision ${last.revision}`;
	const size = last.bytes < 1e6 ? `${Math.max(1, Math.round(last.bytes / 1e3))} kB` : `${(last.bytes / 1e6).toFixed(1)} MB`;
	return `${size} in ${(last.milliseconds / 1000).toFixed(1)} s, of revision ${last.revision}`;
}
