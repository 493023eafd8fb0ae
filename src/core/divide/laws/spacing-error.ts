import { UserError } from '../../text/user-error.ts';
/** Numbers that no spacing has: which, and what would be possible. */
export class SpacingError extends UserError {}
