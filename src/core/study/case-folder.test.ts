import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { caseFolder } from './cases.ts';

describe('the folder of a case', () => {
	it('has a name of its number and of what every disk takes of its name', () => {
		expect(caseFolder({ number: 3, name: 'w=2, n=3' })).toBe('0003-w_2_n_3');
		expect(caseFolder({ number: 12, name: 'Düse' })).toBe('0012-Duse');
		for (const name of ['..', '.', '', '管'.repeat(120), '/', '\0']) expect(caseFolder({ number: 7, name })).toBe('0007');
		expect(caseFolder({ number: 7, name: '../../escaped' })).toBe('0007-escaped');
	});

	it('is one plain, short name, and another for every number, whatever the names', () => {
		fc.assert(
			fc.property(fc.string({ unit: 'binary', maxLength: 300 }), fc.nat(1e6), fc.nat(1e6), (name, a, b) => {
				const folder = caseFolder({ number: a, name });
				expect(folder).toMatch(/^\d{4,}(-[A-Za-z0-9][A-Za-z0-9._+-]*)?$/);
				expect(folder.length).toBeLessThan(60);
				expect(folder).not.toMatch(/[. ]$/);
				if (a !== b) expect(caseFolder({ number: b, name })).not.toBe(folder);
			})
		);
	});
});
