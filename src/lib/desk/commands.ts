import { capital } from '../../core/text/sentences.ts';
import type { Mode } from '../theme/mode.ts';
import { tools } from '../drawing/tools/table.ts';
import { stations, type Desk, type Station } from './desk.svelte.ts';

/** What commands act on besides the desk: the drawing and the dialogs of its screen. */
export interface Screen {
	desk: Desk;
	drawing(): { fit(): void; back(): void; enter(): boolean; escape(): void } | undefined;
	rename(): void;
	openPalette(): void;
	openKeys(): void;
	chooseMeshFile(): void;
	toggleMode(): Mode;
	/** Goes to the list of projects. */
	leave(): void;
}

/** Something that a user can do by name or by key. Palette, keys and the help of keys are made from {@link commands}. */
export interface Command {
	title: string;
	/** Other words by which people look for it in the palette. */
	words?: string;
	/** The key that does it, as the help writes it: `F`, `Ctrl+Z`, `Ctrl+Shift+1`. Letters count in either case. */
	keys?: string;
	/** It works while a field has the focus. */
	whileTyping?: true;
	/** Its key works in a field in which nothing has been typed yet. */
	whileUntouched?: true;
	/** The station at which its key means it; without, at all. */
	station?: Station;
	/** Returns false where there was nothing to do, so that the key goes to the browser. */
	run(screen: Screen): void | boolean;
}

/** Other words for what each station and tool is for. */
const stationWords: Record<Station, string> = {
	shape: 'draw sketch geometry import units parameter frame axisymmetric',
	divide: 'edge divisions pieces count bias spacing grading refine ratio nodes',
	fill: 'mesh structured quads triangles size layers boundary layer refine zone smooth',
	label: 'group boundary condition wall inlet outlet material periodic owner baffle',
	deliver:
		'save write export download file cgns vtu solver deck report study sweep cases variation convergence wedge revolve extrude solid'
};

/** Every command, in the order in which the palette lists them. */
export const commands: readonly Command[] = [
	...stations.map((station, k): Command => ({
		title: `Go to ${capital(station)}`,
		words: stationWords[station],
		keys: `Ctrl+Shift+${k + 1}`,
		whileTyping: true,
		run: ({ desk }) => desk.go(station)
	})),
	...tools.map((tool): Command => ({
		title: tool.title,
		words: `${tool.name} draw tool`,
		...(tool.key ? { keys: tool.key } : {}),
		station: 'shape',
		run: ({ desk }) => {
			desk.station = 'shape';
			desk.tool = tool.name;
		}
	})),
	{
		title: 'Layers on the selected walls',
		words: 'boundary layer first height viscous',
		keys: 'L',
		station: 'fill',
		run: ({ desk }) => desk.offers.run('layers')
	},
	{
		title: 'Select all that goes on from the selected pieces',
		words: 'chain tangent loop',
		keys: '+',
		run: ({ desk }) => desk.offers.run('chain')
	},
	{
		title: 'Back to the whole drawing from a part',
		words: 'part sheet close leave',
		run: ({ desk }) => void desk.openPart('')
	},
	{
		title: 'Units and frame',
		words: 'units millimetre inch metre axisymmetric planar axis',
		run: ({ desk }) => desk.offers.run('frame')
	},
	{ title: 'Fit everything', words: 'zoom all extent view', keys: 'F', run: ({ drawing }) => drawing()?.fit() },
	{ title: 'Back to the last view', words: 'zoom previous view', keys: 'Z', run: ({ drawing }) => drawing()?.back() },
	{
		title: 'Table or recipe text',
		words: 'recipe script source code editor ledger',
		keys: 'T',
		run: ({ desk }) => void (desk.face = desk.face === 'table' ? 'recipe' : 'table')
	},
	{
		title: 'Format the recipe',
		words: 'tidy align indent beautify text source',
		keys: 'Ctrl+Shift+F',
		whileTyping: true,
		run: ({ desk }) => desk.format()
	},
	{
		title: 'Look at a mesh file (CGNS, VTU)',
		words: 'open read view check import result',
		run: (screen) => screen.chooseMeshFile()
	},
	{ title: 'Undo', words: 'back history', keys: 'Ctrl+Z', whileUntouched: true, run: ({ desk }) => void desk.undo() },
	{ title: 'Redo', words: 'forward history', keys: 'Ctrl+Y', whileUntouched: true, run: ({ desk }) => void desk.redo() },
	{ title: 'Delete what is selected', words: 'remove erase', keys: 'Delete', run: ({ desk }) => desk.deleteSelected() },
	{ title: 'Rename what is selected', words: 'name title', keys: 'F2', run: (screen) => screen.rename() },
	{
		title: 'Select all that the station shows',
		words: 'everything mark',
		keys: 'Ctrl+A',
		run: ({ desk }) => desk.selectAll()
	},
	{
		title: 'Walk to the worst elements',
		words: 'quality bad skewed next check',
		keys: 'W',
		run: ({ desk }) => desk.offers.run('worst')
	},
	{
		title: 'Colour the mesh by quality',
		words: 'skewness aspect ratio angle jacobian plot',
		run: ({ desk }) => void (desk.colourByQuality = !desk.colourByQuality)
	},
	{ title: 'All projects', words: 'open list home close another project', run: (screen) => screen.leave() },
	{ title: 'Stop meshing', words: 'cancel abort interrupt', run: ({ desk }) => desk.stop() },
	{ title: 'Paper or slate theme', words: 'dark light colours', run: (screen) => void screen.toggleMode() },
	{ title: 'Find a command', words: 'palette search', keys: 'Ctrl+K', whileTyping: true, run: (screen) => screen.openPalette() },
	{ title: 'Show the keys', words: 'help shortcuts keyboard', keys: '?', run: (screen) => screen.openKeys() }
];

/** The commands whose title or other words have every word of a query, those with it in the title first. */
export function commandsFor(query: string): readonly Command[] {
	const parts = query.toLowerCase().split(/\s+/).filter(Boolean);
	const has = (text: string): boolean => parts.every((part) => text.toLowerCase().includes(part));
	const named = commands.filter(({ title }) => has(title));
	return [...named, ...commands.filter((command) => !named.includes(command) && has(`${command.title} ${command.words ?? ''}`))];
}

/** The command that a key press stands for at a station. */
export function commandOf(
	{
		key,
		code,
		ctrlKey,
		metaKey,
		shiftKey,
		altKey
	}: Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>,
	station: Station
): Command | undefined {
	if (altKey) return undefined;
	const pressed =
		ctrlKey || metaKey ? `ctrl+${withControl(key, code, shiftKey)}` : key === 'Backspace' ? 'delete' : key.toLowerCase();
	return commands.find((command) => command.keys?.toLowerCase() === pressed && (command.station ?? station) === station);
}

/** A key beside Ctrl: digits by their place on the keyboard, whatever Shift makes of them; Shift makes Redo of Undo. */
function withControl(key: string, code: string, isShifted: boolean): string {
	const digit = /^Digit(\d)$/.exec(code)?.[1];
	if (isShifted && digit) return `shift+${digit}`;
	return isShifted && key.toLowerCase() === 'z' ? 'y' : key.toLowerCase();
}
