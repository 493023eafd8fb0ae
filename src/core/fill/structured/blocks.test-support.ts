import { cos, sin } from '../../numeric/elementary.ts';

/** Four blocks in a C around a profile, the wake behind it. */
export function blocksInAC(): string {
	const half = (x: number) => 0.6 * (0.2969 * Math.sqrt(x) - 0.126 * x - 0.3516 * x * x + 0.2843 * x ** 3 - 0.1036 * x ** 4);
	const skin = (sign: number) =>
		Array.from({ length: 23 }, (_, k) => (1 - cos((Math.PI * (k + 1)) / 24)) / 2)
			.map((x) => `(${x}, ${sign * half(x)})`)
			.join(' to ');
	const side = (name: string, sign: number) => `spline skin${name} = nose to ${skin(sign)} to tail
arc front${name} = west to (1, ${sign * 6}) through (${1 - 6 * cos(Math.PI / 4)}, ${sign * 6 * sin(Math.PI / 4)})
line roof${name} = (1, ${sign * 6}) to (8, ${sign * 6})
line rear${name} = (8, 0) to (8, ${sign * 6})
line cut${name} = tail to (1, ${sign * 6})
region fore${name} at (-2, ${sign * 2})
region aft${name} at (5, ${sign * 2})
divide skin${name} into 60 bias 4 toward nose
divide cut${name} into 40 first 0.002 at skin${name}`;
	return `point nose = (0, 0)
point tail = (1, 0)
point west = (-5, 0)
line stem = nose to west
line wake = tail to (8, 0)
${side('Up', 1)}
${side('Low', -1)}
divide stem into 40 first 0.002 at skinUp
divide wake into 40 bias 12 toward tail
fill foreUp, aftUp, foreLow, aftLow structured`;
}
