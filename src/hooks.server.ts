import type { Handle, HandleServerError, RequestEvent, ServerInit } from '@sveltejs/kit';
import { closeServices, services } from './server/services.ts';
import { asRequest, log, logRequest, requestId } from './server/log.ts';
import { ProblemError } from './server/problem.ts';
import { apiHeaders, clientOf, refusalOf, securityHeaders } from './server/guard.ts';

/** Opens the database and puts in the demo before the first request. */
export const init: ServerInit = async () => {
	await services();
	for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void closeServices());
};

/** Every request passes here: who may ask, what pages may load, and errors of the API in one form. */
export const handle: Handle = (input) =>
	asRequest(async () => {
		const since = performance.now();
		const response = await answer(input);
		const { method } = input.event.request;
		logRequest(log, method, input.event.url.pathname, response.status, performance.now() - since);
		response.headers.set('x-request-id', requestId()!);
		return response;
	});

const answer: Handle = async ({ event, resolve }) => {
	const isApi = event.url.pathname.startsWith('/api/') || event.url.pathname === '/api';
	const headers = isApi ? apiHeaders : securityHeaders;
	const address = addressOf(event);
	const refusal = await refusalOf(event.request, event.url, event.cookies, address);
	if (refusal) return secured(refusal, headers);
	event.locals.client = clientOf(event.cookies, event.request.headers, address);
	const response = await resolve(event);
	if (!isApi || response.ok || response.headers.get('content-type')?.includes('problem+json')) return secured(response, headers);
	// What the framework refuses by itself: no such route, no such method, a foreign form, a body too large.
	const text = await response.text();
	const sentences: Record<number, string> = {
		403: 'requests from other sites are refused',
		404: `there is nothing at ${event.url.pathname}`,
		405: `${event.request.method} is not possible at ${event.url.pathname}`,
		413: 'the body is larger than the server takes'
	};
	const detail = sentences[response.status] ?? (text.length < 200 && text !== '' ? text : 'the server could not answer this');
	const problem = new ProblemError(response.status, response.statusText || 'Refused', detail).toResponse();
	const allow = response.headers.get('allow');
	if (allow) problem.headers.set('allow', allow);
	return secured(problem, headers);
};

/** The address that a request comes from; a proxy may say it in a header (ADDRESS_HEADER), and leave it out. */
function addressOf({ getClientAddress }: RequestEvent): string {
	try {
		return getClientAddress();
	} catch {
		return 'unknown';
	}
}

function secured(response: Response, headers: Readonly<Record<string, string>>): Response {
	for (const [name, value] of Object.entries(headers)) if (!response.headers.has(name)) response.headers.set(name, value);
	return response;
}

/** No machine-made sentence leaves the server. */
export const handleError: HandleServerError = ({ error, status }) => {
	if (status >= 500) log.error(error);
	return { message: status === 404 ? 'there is nothing here' : 'something went wrong on the server' };
};
