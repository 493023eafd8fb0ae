import type { Command } from './commands.ts';
import type { Desk, Station } from './desk.svelte.ts';
import { thingKey, type ThingKind } from './selection.svelte.ts';

/** So many things of a drawing are offered beside the commands. */
const mostThings = 20;

/** What a desk has that can be found by name. */
type Found = Pick<Desk, 'result' | 'names'>;

/** Pieces, regions, groups and findings whose names have every word of a query, as commands that show them. */
export function thingsFor(query: string, { result, names }: Found): Command[] {
	const parts = query.toLowerCase().split(/\s+/).filter(Boolean);
	if (parts.length === 0 || !result) return [];
	const found: Command[] = [];
	const offer = (kind: ThingKind, name: string, title: string, station: Station) => {
		if (found.length >= mostThings || !parts.every((part) => `${title} ${name}`.toLowerCase().includes(part))) return;
		found.push({
			title: `${title} ${name}`,
			run: ({ desk }) => {
				desk.go(station);
				desk.select([thingKey(kind, name)], false);
			}
		});
	};
	for (const { name } of result.regions) offer('region', name, 'Region', 'fill');
	for (const { name } of result.mesh.groups) offer('group', name, 'Group', 'label');
	for (const name of names) offer('piece', name, 'Piece', 'divide');
	for (const { name } of result.model.points) offer('point', name, 'Point', 'shape');
	for (const finding of result.findings) {
		if (found.length >= mostThings) break;
		const title = `Finding: ${finding.message}`;
		if (!parts.every((part) => title.toLowerCase().includes(part)) || found.some((one) => one.title === title)) continue;
		found.push({ title, run: ({ desk }) => desk.show(finding) });
	}
	return found;
}
