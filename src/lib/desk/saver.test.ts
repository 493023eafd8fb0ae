import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { NewRevision, Project } from '../../api/schemas.ts';
import * as api from '../api/client.ts';
import { Saver } from './saver.svelte.ts';

vi.mock('../api/client.ts', async (original) => ({ ...(await original<typeof api>()), addRevision: vi.fn() }));
const addRevision = vi.mocked(api.addRevision);

/** A server that keeps revisions, and can be away. */
class Server {
	texts: string[] = ['first'];
	away = false;

	project(): Project {
		const revision = this.texts.length;
		return {
			...{ id: 'p', title: '', text: this.texts.at(-1)!, files: {}, changedAt: '' },
			...{ revision, etag: `"${revision}"`, canUndo: revision > 1, canRedo: false }
		};
	}

	add(etag: string, { text }: NewRevision): Promise<Project> {
		if (this.away) return Promise.reject(new TypeError('fetch failed'));
		if (etag !== this.project().etag)
			return Promise.reject(
				Object.assign(Object.create(api.ServerRefusal.prototype), { status: 412, message: 'changed', current: this.project() })
			);
		this.texts.push(text);
		return Promise.resolve(this.project());
	}
}

describe('saving', () => {
	let server: Server;
	let saver: Saver;

	beforeEach(() => {
		vi.useFakeTimers();
		server = new Server();
		addRevision.mockImplementation((_, etag, revision) => server.add(etag, revision));
		saver = new Saver('p');
		saver.adopt(server.project());
	});
	afterEach(() => void vi.useRealTimers());

	it('sends revisions one after another, each on top of the one before', async () => {
		saver.save('second', {}, 'two');
		saver.save('third', {}, 'three');
		await saver.flush();
		expect(server.texts).toEqual(['first', 'second', 'third']);
		expect([saver.state, saver.revision, saver.unsaved]).toEqual(['saved', 3, false]);
	});

	it('keeps everything while the server is away, and sends it when it is back', async () => {
		server.away = true;
		saver.save('second', {}, 'two');
		await vi.advanceTimersByTimeAsync(10_000);
		expect([saver.state, saver.unsaved]).toEqual(['offline', true]);
		saver.save('third', {}, 'three');
		server.away = false;
		await vi.advanceTimersByTimeAsync(1500);
		await saver.flush();
		expect(server.texts).toEqual(['first', 'second', 'third']);
		expect(saver.state).toBe('saved');
	});

	it('keeps what the server refuses, says why and since when, and tries again', async () => {
		const refuse = (status: number, message: string) =>
			Promise.reject(Object.assign(Object.create(api.ServerRefusal.prototype), { status, message }));
		addRevision.mockImplementation(() => refuse(507, 'the disk is full'));
		saver.save('second', {}, 'two');
		await vi.advanceTimersByTimeAsync(100);
		expect([saver.state, saver.refusal, saver.unsaved]).toEqual(['refused', 'the disk is full', true]);
		expect(saver.refusedSince).toBeGreaterThan(0);
		saver.save('third', {}, 'three');
		await vi.advanceTimersByTimeAsync(60_000);
		expect([saver.state, saver.unsaved]).toEqual(['refused', true]);
		addRevision.mockImplementation((_, etag, revision) => server.add(etag, revision));
		saver.retry();
		await saver.flush();
		expect(server.texts).toEqual(['first', 'second', 'third']);
		expect([saver.state, saver.refusal, saver.refusedSince, saver.unsaved]).toEqual(['saved', '', undefined, false]);
	});

	it('lets a later text take the place of one that can never be stored', async () => {
		addRevision.mockImplementation((_, etag, revision) =>
			revision.text === 'too long'
				? Promise.reject(Object.assign(Object.create(api.ServerRefusal.prototype), { status: 413, message: 'too long' }))
				: server.add(etag, revision)
		);
		saver.save('too long', {}, 'two');
		await vi.advanceTimersByTimeAsync(100);
		expect([saver.state, saver.unsaved]).toEqual(['refused', true]);
		saver.save('short', {}, 'three');
		await saver.flush();
		expect(server.texts).toEqual(['first', 'short']);
		expect(saver.state).toBe('saved');
	});

	it('waits for a word after a change elsewhere, and loses neither side', async () => {
		server.texts.push('theirs');
		saver.save('mine', {}, 'mine');
		await saver.flush();
		expect([saver.state, saver.theirs?.text, saver.unsaved]).toEqual(['conflict', 'theirs', true]);
		saver.keepMine();
		await saver.flush();
		expect(server.texts).toEqual(['first', 'theirs', 'mine']);
		expect(saver.state).toBe('saved');
	});

	it('goes through the history only after all that waits is saved', async () => {
		saver.save('second', {}, 'two');
		const seen: string[][] = [];
		const done = saver.travel(() => {
			seen.push([...server.texts]);
			return Promise.resolve(server.project());
		});
		await done;
		expect(seen).toEqual([['first', 'second']]);
	});
});
