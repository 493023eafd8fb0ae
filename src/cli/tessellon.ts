import { sentenceOf } from '../core/text/user-error.ts';
import { endWithParent } from '../platform/threads/child-process.ts';
import { fileError, isSystemError } from '../platform/system-error.ts';
import { complain } from './errors.ts';
import { main } from './main.ts';

endWithParent();
// Whoever reads the output has gone, as `head` does; or there is no room for it.
process.stdout.on('error', (error) => {
	if (isSystemError(error) && error.code === 'EPIPE') process.exit(0);
	complain(sentenceOf(fileError('the standard output', error), 'writing the standard output'));
	process.exit(2);
});
process.on('uncaughtException', (error) => {
	complain(sentenceOf(error, 'the command'));
	process.exit(1);
});
process.exitCode = await main(process.argv.slice(2));
