import type { Expression } from './syntax.ts';

/** Whether an expression is a bare number, perhaps negative: what the drawing may rewrite. */
export function isLiteral(e: Expression): boolean {
	return (e.kind === 'number' && e.unit === undefined) || (e.kind === 'negate' && isLiteral(e.operand));
}

/** A number as it may be written: 12 digits of what it is measured by, so that roundings of a size leave no trace. */
export function tidyNumber(value: number, size = Math.abs(value)): number {
	if (!(size > 0) || !Number.isFinite(size)) return value;
	const digits = 11 - Number(size.toExponential().split('e')[1]);
	return digits >= 0 && digits <= 100 ? Number(value.toFixed(digits)) + 0 : Number(value.toPrecision(12));
}

/** The shortest text that reads back as the same double. */
export function formatNumber(value: number): string {
	return Object.is(value, -0) ? '0' : String(value);
}

/** An angle as it is typed: degrees unless it has a unit of its own or is a formula. */
export const asDegrees = (source: string): string =>
	/^[-+]?[\d.]+(?:e[-+]?\d+)?$/i.test(source.trim()) ? `${source.trim()} deg` : source.trim();
