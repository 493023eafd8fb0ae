import { AsyncLocalStorage } from 'node:async_hooks';
import { randomUUID } from 'node:crypto';
import { createConsola, LogLevels, type LogObject } from 'consola/basic';
import { UserError } from '../core/text/user-error.ts';

/** The request that is being answered; log lines meanwhile, and the problem that it may answer with, carry its id. */
const requests = new AsyncLocalStorage<{ id: string }>();

/** The id of the request that is being answered; undefined outside of one. */
export const requestId = (): string | undefined => requests.getStore()?.id;

/** Returns a request under a new id. */
export const asRequest = <T>(run: () => T): T => requests.run({ id: randomUUID().slice(0, 8) }, run);

const levels = ['debug', 'info', 'warn', 'error', 'silent'] as const;
type Level = Exclude<(typeof levels)[number], 'silent'>;

/** Writes a line: fields and a message, a message alone, or what was thrown. */
type Write = (event: unknown, message?: string) => void;
export type Log = Record<Level, Write>;

/**
 * Returns a log with one line for each event: readable, or JSON where `TESSELLON_LOG_FORMAT` is `json`.
 *
 * @param settings `TESSELLON_LOG` is the level from which lines are written: at `debug` reads are logged too, at `silent` nothing
 * @throws UserError where the level is none
 */
export function makeLog(
	settings: Record<string, string | undefined>,
	output: { write(line: string): unknown } = process.stdout
): Log {
	const level = levels.find((name) => name === (settings.TESSELLON_LOG ?? 'info'));
	if (!level) throw new UserError(`TESSELLON_LOG is ${settings.TESSELLON_LOG}; use one of ${levels.join(', ')}`);
	const write = settings.TESSELLON_LOG_FORMAT === 'json' ? asJson : asText;
	return createConsola({
		level: LogLevels[level],
		throttle: 0,
		reporters: [{ log: (entry) => void output.write(`${write(fieldsOf(entry))}\n`) }]
	}) as Log;
}

/** The fields of a line, in the order in which they are written. */
function fieldsOf({ args, type, date }: LogObject): Record<string, unknown> {
	const [event, message] = args as [unknown, string | undefined];
	const fields =
		event instanceof Error
			? { msg: event.message, stack: event.stack }
			: typeof event === 'object'
				? { msg: message, ...event }
				: { msg: String(event) };
	const request = requestId() === undefined ? {} : { request: requestId() };
	return { level: type, time: date.toISOString(), ...request, ...fields };
}

const asJson = (fields: Record<string, unknown>): string => JSON.stringify(fields);

function asText({ level, time, msg, stack, ...others }: Record<string, unknown>): string {
	const rest = Object.keys(others).length > 0 ? ` ${JSON.stringify(others)}` : '';
	return `[${String(time).replace('T', ' ').slice(0, 19)}] ${String(level).toUpperCase()}: ${String(msg)}${rest}${stack ? `\n${String(stack)}` : ''}`;
}

export const log = makeLog(process.env);

/** Logs an answered request: reads at `debug`, changes at `info`, refusals at `warn`, failures at `error`. */
export function logRequest(log: Log, method: string, path: string, status: number, milliseconds: number): void {
	const level = status >= 500 ? 'error' : status >= 400 ? 'warn' : method === 'GET' || method === 'HEAD' ? 'debug' : 'info';
	log[level]({ method, path, status, ms: Math.round(milliseconds) }, `${method} ${path} ${status}`);
}
