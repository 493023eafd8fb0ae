import { evaluate } from '../model/expressions.ts';
import { parseExpression } from '../language/parse.ts';
import { bare } from '../model/values.ts';
import { UserError } from '../../text/user-error.ts';

/** A number that a calculator asks for, in SI units; it is above zero, or at least `least`. */
export interface Quantity {
	key: string;
	title: string;
	unit: string;
	value: number;
	least?: number;
}

/** A number on the way to the size: how it is written, its name, its expression in the recipe's language, its unit. */
export type Step = readonly [symbol: string, name: string, expression: string, unit: string];

/** A calculator: numbers in, a size in metres out, with the formula and where it is from. */
export interface Calculator {
	key: string;
	title: string;
	/** What the size is for: a first cell at a wall, or the size of elements. */
	gives: 'first' | 'size';
	/** What the parameters that it writes into a recipe begin with. */
	prefix: string;
	quantities: readonly Quantity[];
	/** Choices of a law, where there are several. */
	laws?: readonly string[];
	formula: string;
	source: string;
	steps: (law: string) => readonly Step[];
	/** The size in metres. */
	size: string;
	/** What the steps must fulfil; throws a RangeError that says which number or law cannot be. */
	check?: (steps: Readonly<Record<string, number>>, law: string) => void;
}

/** A fluid at 20 °C and 1 bar: density in kg/m³, dynamic viscosity in Pa s. */
export const fluids: Record<string, { density: number; viscosity: number }> = {
	air: { density: 1.189, viscosity: 1.813e-5 },
	water: { density: 998.2, viscosity: 1.002e-3 },
	oil: { density: 870, viscosity: 0.087 }
};

const flow: readonly Quantity[] = [
	{ key: 'speed', title: 'speed', unit: 'm/s', value: 10 },
	{ key: 'reach', title: 'length or pipe diameter', unit: 'm', value: 0.08 },
	{ key: 'density', title: 'density', unit: 'kg/m³', value: fluids.water!.density },
	{ key: 'viscosity', title: 'viscosity', unit: 'Pa s', value: fluids.water!.viscosity }
];
const reynolds: Step = ['Re', 're', 'density*speed*reach/viscosity', ''];

/** Friction coefficient of the wall over ½ρU², by law. */
const friction: Record<string, string> = {
	'flat plate': '0.026/re^(1/7)',
	'smooth pipe': '0.079/re^0.25',
	'laminar plate': '0.664/sqrt(re)',
	'laminar pipe': '16/re'
};
/** Reynolds number of the diameter below which the flow in a pipe stays laminar. */
const laminarPipe = 2300;

export const calculators: readonly Calculator[] = [
	{
		key: 'first-height',
		title: 'First height for a y-plus',
		gives: 'first',
		prefix: 'wall',
		quantities: [...flow, { key: 'y_plus', title: 'target y⁺', unit: '', value: 1 }],
		laws: Object.keys(friction),
		formula: 'y = y⁺ μ/(ρ uτ), uτ = U √(Cf/2)',
		source:
			'Cf of a plate 0.026/Re^(1/7) (White 2006, § 6-6), of a smooth pipe 0.079/Re^¼ (Blasius 1913), of a plate in laminar flow 0.664/√Re (Blasius 1908), of a pipe 16/Re (Hagen & Poiseuille)',
		steps: (law) => [reynolds, ['Cf', 'cf', friction[law]!, ''], ['uτ', 'shear', 'speed*sqrt(cf/2)', 'm/s']],
		size: 'y_plus*viscosity/(density*shear)',
		check: ({ re }, law) => {
			if (law === 'smooth pipe' && re! < laminarPipe)
				throw new UserError(
					`with Re = ${Number(re!.toPrecision(3))} the flow in a pipe is laminar; take the law of the laminar pipe`
				);
			if (law === 'laminar pipe' && re! >= laminarPipe)
				throw new UserError(
					`with Re = ${Number(re!.toPrecision(3))} the flow in a pipe is not laminar; take the law of the smooth pipe`
				);
		}
	},
	{
		key: 'layer',
		title: 'Cells in a boundary-layer thickness',
		gives: 'size',
		prefix: 'layer',
		quantities: [...flow, { key: 'cells', title: 'cells in the layer', unit: '', value: 20, least: 1 }],
		laws: ['turbulent', 'laminar'],
		formula: 'h = δ/n, δ = 0.37 L/Re^(1/5) or 5 L/√Re',
		source: 'Prandtl 1927 (turbulent), Blasius 1908 (laminar); see Schlichting & Gersten 2017, ch. 2',
		steps: (law) => [reynolds, ['δ', 'thickness', law === 'laminar' ? '5*reach/sqrt(re)' : '0.37*reach/re^0.2', 'm']],
		size: 'thickness/cells'
	},
	{
		key: 'wave',
		title: 'Elements in a wavelength',
		gives: 'size',
		prefix: 'wave',
		quantities: [
			{ key: 'celerity', title: 'wave speed', unit: 'm/s', value: 343 },
			{ key: 'frequency', title: 'frequency', unit: 'Hz', value: 20_000 },
			{ key: 'elements', title: 'elements in a wavelength', unit: '', value: 10 }
		],
		formula: 'h = c/(f n)',
		source: 'definition of the wavelength, λ = c/f',
		steps: () => [['λ', 'wavelength', 'celerity/frequency', 'm']],
		size: 'wavelength/elements'
	},
	{
		key: 'diffusion',
		title: 'Elements in a diffusion length',
		gives: 'size',
		prefix: 'diffusion',
		quantities: [
			{ key: 'diffusivity', title: 'diffusivity', unit: 'm²/s', value: 9.7e-5 },
			{ key: 'time', title: 'time', unit: 's', value: 1 },
			{ key: 'elements', title: 'elements in the length', unit: '', value: 10 }
		],
		formula: 'h = √(4 a t)/n',
		source: 'Carslaw & Jaeger 1959, § 2.4: the front of erfc(x/√(4at))',
		steps: () => [['√(4at)', 'reach', 'sqrt(4*diffusivity*time)', 'm']],
		size: 'reach/elements'
	}
];

/**
 * Works a calculator out: the size in metres with what it followed from.
 *
 * @throws RangeError that says which number cannot be
 */
export function calculate(
	calculator: Calculator,
	values: Readonly<Record<string, number>>,
	law: string
): { size: number; steps: [string, number, string][] } {
	for (const { key, title, least } of calculator.quantities) {
		const value = values[key]!;
		if (least !== undefined ? !(value >= least) : !(value > 0))
			throw new UserError(`the ${title} must be ${least !== undefined ? `at least ${least}` : 'above zero'}, found ${value}`);
	}
	const quantities: Record<string, number> = { ...values };
	const scope = {
		units: 'm',
		lookup: (name: string) => bare(quantities[name]!),
		curves: () => []
	};
	const work = (source: string): number => {
		const value = evaluate(parseExpression(source).expression!, scope);
		return value.kind === 'number' ? value.value : NaN;
	};
	const steps = calculator.steps(law).map(([symbol, name, expression, unit]): [string, number, string] => {
		quantities[name] = work(expression);
		return [symbol, quantities[name], unit];
	});
	calculator.check?.(quantities, law);
	return { size: work(calculator.size), steps };
}

/**
 * The same as parameters of a recipe, so that the size follows when one of the numbers changes: the
 * statements, and the name of the size.
 *
 * @param isTaken whether a name has a meaning in the recipe already
 */
export function asParameters(
	calculator: Calculator,
	values: Readonly<Record<string, number>>,
	law: string,
	isTaken: (name: string) => boolean
): { statements: string[]; size: string } {
	const steps = calculator.steps(law);
	const names = [...calculator.quantities.map((q) => q.key), ...steps.map(([, name]) => name)];
	const last = calculator.gives === 'first' ? 'first' : 'size';
	let number = 1;
	const named = (name: string) => `${calculator.prefix}${number === 1 ? '' : number}_${name}`;
	while ([...names, last].some((name) => isTaken(named(name)))) number++;
	const rewritten = (expression: string) =>
		expression.replace(/[a-z_]\w*/g, (name) => (names.includes(name) ? named(name) : name));
	return {
		statements: [
			...calculator.quantities.map(
				({ key, title, unit }) => `let ${named(key)} = ${values[key]!}  # ${title}${unit === '' ? '' : `, ${unit}`}`
			),
			...steps.map(
				([symbol, name, expression, unit]) =>
					`let ${named(name)} = ${rewritten(expression)}  # ${symbol}${unit === '' ? '' : `, ${unit}`}`
			),
			`let ${named(last)} = ${rewritten(calculator.size)} * 1 m`
		],
		size: named(last)
	};
}

/** Three significant digits, as a size is written into a statement. */
export function writtenSize(size: number): string {
	const [mantissa, exponent] = size.toExponential(2).split('e') as [string, string];
	return String(Number(`${mantissa}e${exponent}`));
}
