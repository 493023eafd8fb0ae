import { expect, it } from 'vitest';
import { kindByName } from './boundary-kinds.ts';

it.each([
	['inlet', 'inflow'],
	['Main_Inlet_2', 'inflow'],
	['outlet', 'outflow'],
	['far', 'far_field'],
	['symmetry_line', 'symmetry'],
	['axis', 'axis'],
	['no_slip', 'no_slip_wall'],
	['blade', undefined],
	['', undefined]
])('a group named %s is probably of kind %s', (name, kind) => {
	expect(kindByName(name)).toBe(kind);
});
