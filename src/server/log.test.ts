import { Writable } from 'node:stream';
import { describe, expect, it } from 'vitest';
import { asRequest, logRequest, makeLog, requestId } from './log.ts';
import { ProblemError } from './problem.ts';

function gathered(settings: Record<string, string>) {
	const lines: string[] = [];
	const stream = new Writable({
		write(chunk, _, done) {
			lines.push(String(chunk));
			done();
		}
	});
	return { log: makeLog(settings, stream), lines };
}

describe('the log', () => {
	it('has one line to a request, by its outcome', () => {
		const { log, lines } = gathered({ TESSELLON_LOG_FORMAT: 'json' });
		logRequest(log, 'GET', '/api/projects', 200, 3);
		logRequest(log, 'PUT', '/api/projects/a', 200, 3.4);
		logRequest(log, 'PUT', '/api/projects/a', 412, 3);
		logRequest(log, 'POST', '/api/projects', 500, 3);
		expect(lines.map((line) => JSON.parse(line))).toMatchObject([
			{ level: 'info', method: 'PUT', path: '/api/projects/a', status: 200, ms: 3 },
			{ level: 'warn', status: 412 },
			{ level: 'error', status: 500 }
		]);
	});

	it('is readable where JSON is not asked for, and tells of reads at debug', () => {
		const { log, lines } = gathered({ TESSELLON_LOG: 'debug' });
		logRequest(log, 'GET', '/api/projects', 200, 3);
		expect(lines).toHaveLength(1);
		expect(lines[0]).toMatch(/DEBUG.*GET \/api\/projects 200/);
	});

	it('refuses a level that is none', () => {
		expect(() => makeLog({ TESSELLON_LOG: 'loud' })).toThrow('use one of debug, info, warn, error, silent');
	});
});

describe('the id of a request', () => {
	it('stands in its lines and in the problem that it is answered with', async () => {
		const { log, lines } = gathered({ TESSELLON_LOG_FORMAT: 'json' });
		const { id, body } = await asRequest(async () => {
			await Promise.resolve();
			log.info('at work');
			return { id: requestId(), body: await new ProblemError(409, 'Not ready', 'not yet').toResponse().json() };
		});
		expect(id).toMatch(/^[0-9a-f]{8}$/);
		expect(body).toMatchObject({ status: 409, detail: 'not yet', request: id });
		expect(JSON.parse(lines[0]!)).toMatchObject({ request: id, msg: 'at work' });
		expect(requestId()).toBeUndefined();
		expect(await new ProblemError(404, 'Not found', 'nothing').toResponse().json()).not.toHaveProperty('request');
	});
});
