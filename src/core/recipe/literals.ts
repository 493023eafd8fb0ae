import type { Expression } from './syntax.ts';

/** Whether an expression is a bare number, perhaps negative: what the drawing may rewrite. */
export function isLiteral(e: Expression): boolean {
	return (e.kind === 'number' && e.unit === undefined) || (e.kind === 'negate' && isLiteral(e.operand));
}

/** The shortest text that reads back as the same double. */
export function formatNumber(value: number): string {
	return Object.is(value, -0) ? '0' : String(value);
}
