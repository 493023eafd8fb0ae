import { acos, asin, atan, cos, exp, log, pow, sin, tan } from '../../numeric/elementary.ts';
import { evaluate, ExpressionError, mentions, type Scope } from './expressions.ts';
import type { Expression } from '../language/syntax.ts';

/** A value with its first and second derivative. */
export type Jet = readonly [value: number, first: number, second: number];

const constant = (v: number): Jet => [v, 0, 0];
const add = (a: Jet, b: Jet, sign: number): Jet => [a[0] + sign * b[0], a[1] + sign * b[1], a[2] + sign * b[2]];
const times = (a: Jet, b: Jet): Jet => [a[0] * b[0], a[1] * b[0] + a[0] * b[1], a[2] * b[0] + 2 * a[1] * b[1] + a[0] * b[2]];

/** The chain rule: f, f', f'' at the value of `a`. */
const chain = (a: Jet, f: number, df: number, ddf: number): Jet => [f, df * a[1], ddf * a[1] * a[1] + df * a[2]];
const inverse = (a: Jet): Jet => chain(a, 1 / a[0], -1 / (a[0] * a[0]), 2 / (a[0] * a[0] * a[0]));

const rules: Record<string, (a: Jet) => Jet> = {
	sin: (a) => chain(a, sin(a[0]), cos(a[0]), -sin(a[0])),
	cos: (a) => chain(a, cos(a[0]), -sin(a[0]), -cos(a[0])),
	tan: (a) => {
		const t = tan(a[0]);
		return chain(a, t, 1 + t * t, 2 * t * (1 + t * t));
	},
	asin: (a) => {
		const r = 1 - a[0] * a[0];
		return chain(a, asin(a[0]), 1 / Math.sqrt(r), a[0] / (r * Math.sqrt(r)));
	},
	acos: (a) => {
		const r = 1 - a[0] * a[0];
		return chain(a, acos(a[0]), -1 / Math.sqrt(r), -a[0] / (r * Math.sqrt(r)));
	},
	atan: (a) => {
		const r = 1 + a[0] * a[0];
		return chain(a, atan(a[0]), 1 / r, (-2 * a[0]) / (r * r));
	},
	exp: (a) => chain(a, exp(a[0]), exp(a[0]), exp(a[0])),
	log: (a) => chain(a, log(a[0]), 1 / a[0], -1 / (a[0] * a[0])),
	sqrt: (a) => {
		const r = Math.sqrt(a[0]);
		return chain(a, r, 0.5 / r, -0.25 / (r * a[0]));
	},
	abs: (a) => (a[0] < 0 ? [-a[0], -a[1], -a[2]] : a)
};

/** A function of the parameter with its derivatives, from an expression (forward differentiation; Griewank & Walther 2008). */
export function compileJet(e: Expression, scope: Scope, parameter: string): (t: number) => Jet {
	if (!mentions(e, parameter)) {
		const value = evaluate(e, scope);
		if (value.kind === 'point') throw new ExpressionError('a point stands where a number is needed', e.from, e.to);
		const jet = constant(value.value);
		return () => jet;
	}
	switch (e.kind) {
		case 'name':
			return (t) => [t, 1, 0];
		case 'negate': {
			const a = compileJet(e.operand, scope, parameter);
			return (t) => add(constant(0), a(t), -1);
		}
		case 'binary': {
			const [a, b] = [compileJet(e.left, scope, parameter), compileJet(e.right, scope, parameter)];
			if (e.operator === '+' || e.operator === '-') {
				const sign = e.operator === '+' ? 1 : -1;
				return (t) => add(a(t), b(t), sign);
			}
			if (e.operator === '*') return (t) => times(a(t), b(t));
			if (e.operator === '/') return (t) => times(a(t), inverse(b(t)));
			if (!mentions(e.right, parameter)) {
				const n = b(0)[0];
				return (t) => {
					const base = a(t);
					const d = n === 0 ? 0 : n * pow(base[0], n - 1);
					const dd = n === 0 || n === 1 ? 0 : n * (n - 1) * pow(base[0], n - 2);
					return chain(base, pow(base[0], n), d, dd);
				};
			}
			return (t) => rules.exp!(times(b(t), rules.log!(a(t))));
		}
		case 'call': {
			const rule = Object.hasOwn(rules, e.callee.text) ? rules[e.callee.text] : undefined;
			if (!rule || e.arguments.length !== 1)
				throw new ExpressionError(`“${e.callee.text}” cannot follow the parameter “${parameter}” of a curve`, e.from, e.to);
			const a = compileJet(e.arguments[0]!, scope, parameter);
			return (t) => rule(a(t));
		}
		default:
			throw new ExpressionError(`this cannot follow the parameter “${parameter}” of a curve`, e.from, e.to);
	}
}
