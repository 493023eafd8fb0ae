/** A coordinate or length in a sentence. */
export const short = (value: number): number => Number(value.toPrecision(6));

export const placeText = ({ x, y }: { x: number; y: number }): string => `(${short(x)}, ${short(y)})`;

/** A text with its first letter as a capital. */
export const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);

/** A text with its first letter small. */
export const uncapital = (text: string): string => text.slice(0, 1).toLowerCase() + text.slice(1);

/** A number with its noun: `1 element`, `2,000 elements`. */
export const counted = (count: number, noun: string, many = `${noun}s`): string =>
	`${count.toLocaleString('en')} ${count === 1 ? noun : many}`;
