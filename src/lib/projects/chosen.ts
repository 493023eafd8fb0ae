import type { ProjectSummary } from '../../api/schemas.ts';

/** What a list of projects may be sorted by. */
export const orders = { changed: 'last change', title: 'title' } as const;
export type Order = keyof typeof orders;

/** The projects whose titles have every word that is looked for, in their order. */
export function chosen(projects: readonly ProjectSummary[], wanted: string, order: Order): ProjectSummary[] {
	const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
	return projects
		.filter(({ title }) => words.every((word) => title.toLowerCase().includes(word)))
		.sort((a, b) => (order === 'title' ? a.title.localeCompare(b.title) : b.changedAt.localeCompare(a.changedAt)));
}

/** A title that no project has, for one that is not named yet: files are called by it. */
export function freeTitle(titles: readonly string[]): string {
	const taken = new Set(titles.map((title) => title.toLowerCase()));
	let [title, number] = ['Untitled', 2];
	while (taken.has(title.toLowerCase())) title = `Untitled ${number++}`;
	return title;
}

/** Whether a title is one that {@link freeTitle} gives. */
export const unnamed = (title: string): boolean => /^untitled( \d+)?$/i.test(title.trim());
