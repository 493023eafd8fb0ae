import { UserError } from '../core/text/user-error.ts';
/** The call itself is wrong: exit status 2. */
export class UsageError extends UserError {}

/** The recipe has errors or no mesh came out: exit status 1, each reason a line on standard error. */
export class RecipeError extends UserError {}

/** Prints a sentence on standard error. */
export const complain = (message: string) => process.stderr.write(`tessellon: ${message}\n`);
