import { browserMemory } from '../storage/browser-memory.ts';

/** The two looks of the desk. */
export type Mode = 'paper' | 'slate';

const key = 'tessellon-mode';

export const otherMode = (mode: Mode): Mode => (mode === 'paper' ? 'slate' : 'paper');

export function currentMode(): Mode {
	return typeof document !== 'undefined' && document.documentElement.dataset.mode === 'slate' ? 'slate' : 'paper';
}

export function applyMode(mode: Mode): void {
	document.documentElement.dataset.mode = mode;
	document.documentElement.dataset.theme = 'paper';
	browserMemory.setItem(key, mode);
}

/** The look chosen last time. */
export function rememberedMode(): Mode {
	return browserMemory.getItem(key) === 'slate' ? 'slate' : 'paper';
}
