/** The roles of the theme as the canvas needs them. */
export interface Palette {
	paper: string;
	sheet: string;
	edge: string;
	ink: string;
	quiet: string;
	graphite: string;
	kingfisher: string;
	marigold: string;
	brick: string;
	grid: string;
	tints: readonly string[];
}

/** Reads the roles that are in force. */
export function readPalette(element: Element): Palette {
	const style = getComputedStyle(element);
	const role = (name: string) => style.getPropertyValue(`--${name}`).trim();
	const slate = document.documentElement.dataset.mode === 'slate';
	return {
		paper: role('paper'),
		sheet: role('sheet'),
		edge: role('edge'),
		ink: role('ink'),
		quiet: role('quiet'),
		graphite: role('graphite'),
		kingfisher: role('kingfisher'),
		marigold: role('marigold'),
		brick: role('brick'),
		grid: role('grid'),
		tints: slate ? ['#243843', '#2f3a31', '#3a3440', '#3d3a2c'] : ['#dfeaf0', '#e8e9d6', '#eee0e2', '#f0e6cf']
	};
}
