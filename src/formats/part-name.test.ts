import fc from 'fast-check';
import { resolve, sep } from 'node:path';
import { describe, expect, it } from 'vitest';
import { checkPartName } from './part-name.ts';

describe('the name of a file that is written', () => {
	it.each(['nodes.dat', 'venturi-tables/nodes.csv', 'débit.txt', '流路.cgns', 'a b.txt', '.hidden'])('may be %s', (name) => {
		expect(() => checkPartName(name)).not.toThrow();
	});

	it.each([
		['', /a name is wanted/],
		['../escaped.txt', /leads out of its folder/],
		['a/../../b', /leads out of its folder/],
		['.', /leads out/],
		['/etc/passwd', /slash/],
		['a//b', /two in a row/],
		['C:\\x', /signs/],
		['a\u0000b', /control signs/],
		['a\nb', /control signs/],
		['gnp\u202e.exe', /control signs/],
		['trailing.', /ends with a dot/],
		['流'.repeat(120), /longer than 200 bytes/]
	])('is refused with the reason: %j', (name, why) => {
		expect(() => checkPartName(name)).toThrow(why);
	});

	it('never leads out of the folder that it is joined to', () => {
		const signs = fc.constantFrom('a', '.', '..', '/', '\\', '\0', ' ', ':', '流', '%');
		fc.assert(
			fc.property(fc.array(signs, { maxLength: 8 }), (list) => {
				const name = list.join('');
				try {
					checkPartName(name);
				} catch {
					return;
				}
				expect(resolve('/folder', name).startsWith(`/folder${sep}`)).toBe(true);
			})
		);
	});
});
