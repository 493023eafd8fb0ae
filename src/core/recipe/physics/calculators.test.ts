import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import { asParameters, calculate, calculators, fluids, writtenSize } from './calculators.ts';

const calculator = (key: string) => calculators.find((c) => c.key === key)!;
const defaults = (key: string) => Object.fromEntries(calculator(key).quantities.map((q) => [q.key, q.value]));

describe('calculators', () => {
	it('give the first height for a y-plus over a flat plate', () => {
		// Air at 10 m/s over 1 m: Re = 655 819, Cf = 0.026/Re^(1/7) = 0.003837, uτ = 0.438 m/s, y = 3.48e-5 m.
		const { size, steps } = calculate(
			calculator('first-height'),
			{ speed: 10, reach: 1, ...fluids.air!, y_plus: 1 },
			'flat plate'
		);
		expect(steps[0]![1]).toBeCloseTo(655_819, 0);
		expect(steps[2]![1]).toBeCloseTo(10 * Math.sqrt(steps[1]![1] / 2), 12);
		expect(size).toBeCloseTo(fluids.air!.viscosity / (fluids.air!.density * steps[2]![1]), 15);
		expect(size).toBeGreaterThan(3.4e-5);
		expect(size).toBeLessThan(3.6e-5);
	});

	it('are twice as high for twice the y-plus, and lower at higher speed', () => {
		const height = (change: object) =>
			calculate(calculator('first-height'), { ...defaults('first-height'), ...change }, 'smooth pipe').size;
		expect(height({ y_plus: 2 }) / height({ y_plus: 1 })).toBeCloseTo(2, 12);
		// Blasius: uτ goes with U^(7/8).
		expect(height({ speed: 20 }) / height({ speed: 10 })).toBeCloseTo(2 ** (-7 / 8), 12);
	});

	it('give sizes from a layer, a wavelength and a diffusion length', () => {
		const layer = calculate(calculator('layer'), { speed: 1, reach: 1, density: 1000, viscosity: 1e-3, cells: 10 }, 'laminar');
		expect(layer.size).toBeCloseTo(5 / 1000 / 10, 12);
		expect(calculate(calculator('wave'), { celerity: 340, frequency: 1000, elements: 17 }, '').size).toBeCloseTo(0.02, 12);
		expect(calculate(calculator('diffusion'), { diffusivity: 1e-4, time: 1, elements: 2 }, '').size).toBeCloseTo(0.01, 12);
	});

	it('say which number cannot be', () => {
		for (const calculator of calculators)
			for (const { key, title } of calculator.quantities)
				expect(() => calculate(calculator, { ...defaults(calculator.key), [key]: 0 }, calculator.laws?.[0] ?? '')).toThrow(
					new RegExp(`the ${title.replace('⁺', '.')} must be (?:above zero|at least 1), found 0`)
				);
		const slow: Record<string, number> = { ...defaults('first-height'), speed: 1e-3 };
		expect(() => calculate(calculator('first-height'), slow, 'smooth pipe')).toThrow(/the flow in a pipe is laminar/);
		// Poiseuille: the wall's slope of speed is 8U/D, so that y⁺ = 1 lies at √(νD/8U).
		const y = calculate(calculator('first-height'), slow, 'laminar pipe').size;
		expect(y).toBeCloseTo(Math.sqrt((slow.viscosity! / slow.density! / 8e-3) * slow.reach!), 12);
	});

	it('go into a recipe as parameters that give the same size, by whatever law, under free names', () => {
		for (const calculator of calculators)
			for (const law of calculator.laws ?? ['']) {
				const values = { ...defaults(calculator.key), ...(law === 'laminar pipe' ? { speed: 1e-3 } : {}) };
				const { statements, size } = asParameters(
					calculator,
					values,
					law,
					(name) => name === `${calculator.prefix}_${calculator.quantities[0]!.key}`
				);
				expect(size).toBe(`${calculator.prefix}2_${calculator.gives === 'first' ? 'first' : 'size'}`);
				const text = `recipe 1\nunits mm\n${statements.join('\n')}\nline a = (0, 0) to (${size}, 0)\n`;
				const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
				expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
				const wanted = 1000 * calculate(calculator, values, law).size;
				expect(result.arrangement.pieces[0]!.length / wanted).toBeCloseTo(1, 12);
				expect(result.model.parameters.at(-1)!.dimension).toEqual({ length: 1, angle: 0 });
			}
	});

	it('write three digits', () => {
		expect(writtenSize(0.0000348123)).toBe('0.0000348');
		expect(writtenSize(12.3456)).toBe('12.3');
	});
});
