import { describe, expect, it } from 'vitest';
import { calculators, fluids, writtenSize } from './calculators.ts';

const calculator = (key: string) => calculators.find((c) => c.key === key)!;
const defaults = (key: string) => Object.fromEntries(calculator(key).quantities.map((q) => [q.key, q.value]));

describe('calculators', () => {
	it('give the first height for a y-plus over a flat plate', () => {
		// Air at 10 m/s over 1 m: Re = 655 819, Cf = 0.026/Re^(1/7) = 0.003837, uτ = 0.438 m/s, y = 3.48e-5 m.
		const { size, steps } = calculator('first-height').work({ speed: 10, length: 1, ...fluids.air!, yPlus: 1 }, 'flat plate');
		expect(steps[0]![1]).toBeCloseTo(655_819, 0);
		expect(steps[2]![1]).toBeCloseTo(10 * Math.sqrt(steps[1]![1] / 2), 12);
		expect(size).toBeCloseTo(fluids.air!.viscosity / (fluids.air!.density * steps[2]![1]), 15);
		expect(size).toBeGreaterThan(3.4e-5);
		expect(size).toBeLessThan(3.6e-5);
	});

	it('are twice as high for twice the y-plus, and lower at higher speed', () => {
		const height = (change: object) =>
			calculator('first-height').work({ ...defaults('first-height'), ...change }, 'smooth pipe').size;
		expect(height({ yPlus: 2 }) / height({ yPlus: 1 })).toBeCloseTo(2, 12);
		// Blasius: uτ goes with U^(7/8).
		expect(height({ speed: 20 }) / height({ speed: 10 })).toBeCloseTo(2 ** (-7 / 8), 12);
	});

	it('give sizes from a layer, a wavelength and a diffusion length', () => {
		const layer = calculator('layer').work({ speed: 1, length: 1, density: 1000, viscosity: 1e-3, cells: 10 }, 'laminar');
		expect(layer.size).toBeCloseTo(5 / 1000 / 10, 12);
		expect(calculator('wave').work({ wave: 340, frequency: 1000, elements: 17 }, '').size).toBeCloseTo(0.02, 12);
		expect(calculator('diffusion').work({ diffusivity: 1e-4, time: 1, elements: 2 }, '').size).toBeCloseTo(0.01, 12);
	});

	it('say which number cannot be', () => {
		for (const { key, quantities, work, laws } of calculators)
			for (const { key: quantity } of quantities)
				expect(() => work({ ...defaults(key), [quantity]: 0 }, laws?.[0] ?? '')).toThrow(/above zero|at least one/);
	});

	it('write three digits', () => {
		expect(writtenSize(0.0000348123)).toBe('0.0000348');
		expect(writtenSize(12.3456)).toBe('12.3');
	});
});
