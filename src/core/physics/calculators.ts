import { exp, log } from '../numeric/elementary.ts';

const power = (x: number, e: number) => exp(e * log(x));

/** A number that a calculator asks for, in SI units. */
export interface Quantity {
	key: string;
	title: string;
	unit: string;
	value: number;
}

/** A calculator: numbers in, a size in metres out, with the formula and where it is from. */
export interface Calculator {
	key: string;
	title: string;
	/** What the size is for: a first cell at a wall, or the size of elements. */
	gives: 'first' | 'size';
	quantities: readonly Quantity[];
	/** Choices of a law, where there are several. */
	laws?: readonly string[];
	formula: string;
	source: string;
	/** The size in metres with what it followed from; throws a RangeError that says which number cannot be. */
	work: (values: Record<string, number>, law: string) => { size: number; steps: [string, number, string][] };
}

/** A fluid at 20 °C and 1 bar: density in kg/m³, dynamic viscosity in Pa s. */
export const fluids: Record<string, { density: number; viscosity: number }> = {
	air: { density: 1.189, viscosity: 1.813e-5 },
	water: { density: 998.2, viscosity: 1.002e-3 },
	oil: { density: 870, viscosity: 0.087 }
};

const flow: readonly Quantity[] = [
	{ key: 'speed', title: 'speed', unit: 'm/s', value: 10 },
	{ key: 'length', title: 'length or pipe diameter', unit: 'm', value: 0.08 },
	{ key: 'density', title: 'density', unit: 'kg/m³', value: fluids.water!.density },
	{ key: 'viscosity', title: 'viscosity', unit: 'Pa s', value: fluids.water!.viscosity }
];

function reynolds(values: Record<string, number>): number {
	for (const key of ['speed', 'length', 'density', 'viscosity'])
		if (!(values[key]! > 0)) throw new RangeError(`the ${key} must be above zero, found ${values[key]!}`);
	return (values.density! * values.speed! * values.length!) / values.viscosity!;
}

/** Friction coefficient of the wall over ½ρU², by law. */
const friction: Record<string, (re: number) => number> = {
	'flat plate': (re) => 0.026 / power(re, 1 / 7),
	'smooth pipe': (re) => (re < 2300 ? 16 / re : 0.079 / power(re, 0.25)),
	'laminar plate': (re) => 0.664 / Math.sqrt(re)
};

export const calculators: readonly Calculator[] = [
	{
		key: 'first-height',
		title: 'First height for a y-plus',
		gives: 'first',
		quantities: [...flow, { key: 'yPlus', title: 'target y⁺', unit: '', value: 1 }],
		laws: Object.keys(friction),
		formula: 'y = y⁺ μ/(ρ uτ), uτ = U √(Cf/2)',
		source:
			'Cf of a plate 0.026/Re^(1/7) (White 2006, § 6-6), of a smooth pipe 0.079/Re^¼ (Blasius 1913), laminar 0.664/√Re (Blasius 1908)',
		work: (values, law) => {
			const re = reynolds(values);
			if (!(values.yPlus! > 0)) throw new RangeError(`the target y⁺ must be above zero, found ${values.yPlus!}`);
			const cf = friction[law]!(re);
			const shear = values.speed! * Math.sqrt(cf / 2);
			const size = (values.yPlus! * values.viscosity!) / (values.density! * shear);
			return {
				size,
				steps: [
					['Re', re, ''],
					['Cf', cf, ''],
					['uτ', shear, 'm/s']
				]
			};
		}
	},
	{
		key: 'layer',
		title: 'Cells in a boundary-layer thickness',
		gives: 'size',
		quantities: [...flow, { key: 'cells', title: 'cells in the layer', unit: '', value: 20 }],
		laws: ['turbulent', 'laminar'],
		formula: 'h = δ/n, δ = 0.37 L/Re^(1/5) or 5 L/√Re',
		source: 'Prandtl 1927 (turbulent), Blasius 1908 (laminar); see Schlichting & Gersten 2017, ch. 2',
		work: (values, law) => {
			const re = reynolds(values);
			if (!(values.cells! >= 1)) throw new RangeError(`there is at least one cell in the layer, found ${values.cells!}`);
			const thickness = law === 'laminar' ? (5 * values.length!) / Math.sqrt(re) : (0.37 * values.length!) / power(re, 0.2);
			return {
				size: thickness / values.cells!,
				steps: [
					['Re', re, ''],
					['δ', thickness, 'm']
				]
			};
		}
	},
	{
		key: 'wave',
		title: 'Elements in a wavelength',
		gives: 'size',
		quantities: [
			{ key: 'wave', title: 'wave speed', unit: 'm/s', value: 343 },
			{ key: 'frequency', title: 'frequency', unit: 'Hz', value: 20_000 },
			{ key: 'elements', title: 'elements in a wavelength', unit: '', value: 10 }
		],
		formula: 'h = c/(f n)',
		source: 'definition of the wavelength, λ = c/f',
		work: (values) => {
			for (const key of ['wave', 'frequency', 'elements'])
				if (!(values[key]! > 0))
					throw new RangeError(`the ${key === 'wave' ? 'wave speed' : key} must be above zero, found ${values[key]!}`);
			const length = values.wave! / values.frequency!;
			return { size: length / values.elements!, steps: [['λ', length, 'm']] };
		}
	},
	{
		key: 'diffusion',
		title: 'Elements in a diffusion length',
		gives: 'size',
		quantities: [
			{ key: 'diffusivity', title: 'diffusivity', unit: 'm²/s', value: 9.7e-5 },
			{ key: 'time', title: 'time', unit: 's', value: 1 },
			{ key: 'elements', title: 'elements in the length', unit: '', value: 10 }
		],
		formula: 'h = √(4 a t)/n',
		source: 'Carslaw & Jaeger 1959, § 2.4: the front of erfc(x/√(4at))',
		work: (values) => {
			for (const key of ['diffusivity', 'time', 'elements'])
				if (!(values[key]! > 0)) throw new RangeError(`the ${key} must be above zero, found ${values[key]!}`);
			const length = Math.sqrt(4 * values.diffusivity! * values.time!);
			return { size: length / values.elements!, steps: [['√(4at)', length, 'm']] };
		}
	}
];

/** Three significant digits, as a size is written into a statement. */
export function writtenSize(size: number): string {
	const [mantissa, exponent] = size.toExponential(2).split('e') as [string, string];
	return String(Number(`${mantissa}e${exponent}`));
}
