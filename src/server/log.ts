import { AsyncLocalStorage } from 'node:async_hooks';
import { randomUUID } from 'node:crypto';
import { pino, type DestinationStream, type Logger } from 'pino';
import pretty from 'pino-pretty';
import { UserError } from '../core/text/user-error.ts';

/** The request that is being answered; what is logged meanwhile, and the problem that it may answer with, carry its id. */
const requests = new AsyncLocalStorage<{ id: string }>();

/** The id of the request that is being answered; undefined outside of one. */
export const requestId = (): string | undefined => requests.getStore()?.id;

/** Answers a request under an id of its own. */
export const asRequest = <T>(run: () => T): T => requests.run({ id: randomUUID().slice(0, 8) }, run);

/**
 * A log of one line to an event: readable, or JSON with `TESSELLON_LOG_FORMAT=json`. `TESSELLON_LOG` is the level from
 * which lines are written: `debug` tells of reads too, `silent` of nothing.
 */
export function makeLog(settings: Record<string, string | undefined>, stream?: DestinationStream): Logger {
	const level = settings.TESSELLON_LOG ?? 'info';
	const levels = ['trace', 'debug', 'info', 'warn', 'error', 'fatal', 'silent'];
	if (!levels.includes(level))
		throw new UserError(`TESSELLON_LOG is \`${level}\`, which is no level; there are ${levels.join(', ')}`);
	const own = stream ?? process.stdout;
	const isJson = settings.TESSELLON_LOG_FORMAT === 'json';
	const options = { singleLine: true, ignore: 'pid,hostname', translateTime: 'SYS:yyyy-mm-dd HH:MM:ss', sync: true };
	const mixin = () => (requestId() === undefined ? {} : { request: requestId() });
	return pino({ level, mixin }, isJson ? own : pretty({ ...options, destination: own as NodeJS.WritableStream }));
}

export const log = makeLog(process.env);

/** One line of an answered request: reads at `debug`, what changes something at `info`, refusals at `warn`, failures at `error`. */
export function logRequest(own: Logger, method: string, path: string, status: number, milliseconds: number): void {
	const level = status >= 500 ? 'error' : status >= 400 ? 'warn' : method === 'GET' || method === 'HEAD' ? 'debug' : 'info';
	own[level]({ method, path, status, ms: Math.round(milliseconds) }, `${method} ${path} ${status}`);
}
