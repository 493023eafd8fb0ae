import { afterEach, expect, it, vi } from 'vitest';
import { browserMemory } from './browser-memory.ts';

afterEach(() => vi.unstubAllGlobals());

it('remembers as the browser does', () => {
	const held = new Map<string, string>();
	vi.stubGlobal('localStorage', {
		getItem: (key: string) => held.get(key) ?? null,
		setItem: (key: string, value: string) => void held.set(key, value)
	});
	browserMemory.setItem('mode', 'slate');
	expect(browserMemory.getItem('mode')).toBe('slate');
	expect(browserMemory.getItem('other')).toBeNull();
});

it('remembers nothing, and says nothing, where the browser forbids it or has no room', () => {
	const refuse = () => {
		throw new DOMException('denied', 'SecurityError');
	};
	vi.stubGlobal('localStorage', { getItem: refuse, setItem: refuse });
	expect(browserMemory.getItem('mode')).toBeNull();
	expect(() => browserMemory.setItem('mode', 'slate')).not.toThrow();
});
