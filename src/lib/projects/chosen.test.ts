import { expect, it } from 'vitest';
import { chosen, freeTitle, unnamed } from './chosen.ts';

const project = (title: string, changedAt: string) => ({ id: title, title, revision: 1, etag: '"1"', changedAt });
const projects = [
	project('Venturi tube', '2026-11-20T10:00:00Z'),
	project('Cold plate', '2026-11-22T10:00:00Z'),
	project('Cold plate, wide tube', '2026-11-21T10:00:00Z')
];

it('projects are found by all words of their titles, in any order and letter case', () => {
	const titles = (wanted: string) => chosen(projects, wanted, 'changed').map((p) => p.title);
	expect(titles('')).toEqual(['Cold plate', 'Cold plate, wide tube', 'Venturi tube']);
	expect(titles('TUBE cold')).toEqual(['Cold plate, wide tube']);
	expect(titles('poppet')).toEqual([]);
});

it('projects are sorted by their last change, or by title', () => {
	expect(chosen(projects, 'tube', 'title').map((p) => p.title)).toEqual(['Cold plate, wide tube', 'Venturi tube']);
	expect(projects[0]!.title).toBe('Venturi tube');
});

it('a project that is not named yet has a title that no other has', () => {
	expect(freeTitle(['Venturi tube'])).toBe('Untitled');
	expect(freeTitle(['untitled', 'Untitled 2', 'Untitled 4'])).toBe('Untitled 3');
	expect(['Untitled', 'untitled 12', 'Untitled plate'].map(unnamed)).toEqual([true, true, false]);
});
