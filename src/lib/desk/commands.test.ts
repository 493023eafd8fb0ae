import { describe, expect, it } from 'vitest';
import { commandOf, commands, commandsFor } from './commands.ts';
import { stations, type Station } from './desk.svelte.ts';
import { Offers } from './offers.ts';

const press = (key: string, more: object = {}) => ({
	...{ key, code: '', ctrlKey: false, metaKey: false, shiftKey: false, altKey: false },
	...more
});

describe('commands', () => {
	it.each([
		'save',
		'export',
		'download',
		'units',
		'layers',
		'study',
		'parameter',
		'refine',
		'periodic',
		'wedge',
		'group',
		'help',
		'dark'
	])('are found by “%s”', (query) => expect(commandsFor(query).length).toBeGreaterThan(0));

	it('are found by words of the title first', () => {
		expect(commandsFor('undo')[0]!.title).toBe('Undo');
		expect(commandsFor('go fill')[0]!.title).toBe('Go to Fill');
		expect(commandsFor('zzz')).toEqual([]);
		expect(commandsFor('')).toEqual(commands);
	});

	it('have titles of their own, and keys that are one command at a station', () => {
		expect(new Set(commands.map(({ title }) => title)).size).toBe(commands.length);
		for (const station of stations) {
			const keys = commands
				.filter((command) => command.keys && (command.station ?? station) === station)
				.map(({ keys }) => keys!.toLowerCase());
			expect(keys.filter((key, k) => keys.indexOf(key) !== k)).toEqual([]);
		}
	});

	it('follow from what is pressed', () => {
		const title = (event: ReturnType<typeof press>, station: Station = 'divide') => commandOf(event, station)?.title;
		expect(title(press('f'))).toBe('Fit everything');
		expect(title(press('z', { ctrlKey: true }))).toBe('Undo');
		expect(title(press('Z', { ctrlKey: true, shiftKey: true }))).toBe('Redo');
		expect(title(press('k', { metaKey: true }))).toBe('Find a command');
		expect(title(press('#', { code: 'Digit3', ctrlKey: true, shiftKey: true }))).toBe('Go to Fill');
		expect(title(press('Backspace'))).toBe('Delete what is selected');
		expect(title(press('l'), 'fill')).toBe('Layers on the selected walls');
		expect(title(press('f', { altKey: true }))).toBeUndefined();
		// A plus sign is on a digit of some keyboards.
		expect(title(press('+', { code: 'Digit1', shiftKey: true }))).toBe('Select all that goes on from the selected pieces');
	});
});

it('offers of views run while they are open', () => {
	const offers = new Offers();
	let count = 0;
	expect(offers.run('chain')).toBe(false);
	const first = offers.add('chain', () => count++);
	const second = offers.add('chain', () => (count += 10));
	first();
	expect(offers.run('chain')).toBe(true);
	expect(count).toBe(10);
	second();
	expect(offers.run('chain')).toBe(false);
});
