import { keysOf } from '../../text/typed.ts';

/**
 * The kinds that a boundary group may have, with the CGNS/SIDS boundary-condition type (SIDS 4.5,
 * section 9.7, BCType_t) that each is delivered as.
 */
export const boundaryKinds = {
	wall: { title: 'Wall', cgns: 'BCWall' },
	no_slip_wall: { title: 'No-slip wall', cgns: 'BCWallViscous' },
	slip_wall: { title: 'Slip wall', cgns: 'BCWallInviscid' },
	heat_flux_wall: { title: 'Wall with heat flux', cgns: 'BCWallViscousHeatFlux' },
	isothermal_wall: { title: 'Isothermal wall', cgns: 'BCWallViscousIsothermal' },
	inflow: { title: 'Inflow', cgns: 'BCInflow' },
	outflow: { title: 'Outflow', cgns: 'BCOutflow' },
	far_field: { title: 'Far field', cgns: 'BCFarfield' },
	symmetry: { title: 'Symmetry', cgns: 'BCSymmetryPlane' },
	axis: { title: 'Axis', cgns: 'BCSymmetryPolar' },
	extrapolate: { title: 'Extrapolate', cgns: 'BCExtrapolate' },
	dirichlet: { title: 'Fixed value', cgns: 'BCDirichlet' },
	neumann: { title: 'Fixed gradient', cgns: 'BCNeumann' },
	general: { title: 'General', cgns: 'BCGeneral' }
} as const;

export type BoundaryKind = keyof typeof boundaryKinds;

export const isBoundaryKind = (word: string): word is BoundaryKind => Object.hasOwn(boundaryKinds, word);

/** The kind that is delivered as a boundary-condition type; undefined for one that no kind is. */
export const kindOfCgns = (type: string): BoundaryKind | undefined =>
	keysOf(boundaryKinds).find((kind) => boundaryKinds[kind].cgns === type);

/** Words in names of groups, by the kind that they mostly stand for; the first that is found counts. */
const usualWords: readonly (readonly [RegExp, BoundaryKind])[] = [
	[/inlet|inflow|intake|supply|einlass/, 'inflow'],
	[/outlet|outflow|exhaust|outflux|exit|auslass/, 'outflow'],
	[/far|ambient|freestream/, 'far_field'],
	[/sym/, 'symmetry'],
	[/axis|centre_?line|center_?line/, 'axis'],
	[/slip_?wall|frictionless/, 'slip_wall'],
	[/heat|flux/, 'heat_flux_wall'],
	[/hot|cold|isotherm/, 'isothermal_wall'],
	[/fixed|clamp|support|dirichlet/, 'dirichlet'],
	[/load|traction|neumann/, 'neumann']
];

/** The kind that a group's name suggests; undefined where it suggests none. */
export function kindByName(name: string): BoundaryKind | undefined {
	const plain = name.toLowerCase();
	if (/no_?slip/.test(plain)) return 'no_slip_wall';
	return usualWords.find(([pattern]) => pattern.test(plain))?.[1];
}

/** Categorical colours that stay apart for colour-blind readers (Okabe & Ito 2008), by the name a recipe uses. */
export const groupColours = {
	blue: '#0072B2',
	vermilion: '#D55E00',
	green: '#009E73',
	purple: '#CC79A7',
	amber: '#E69F00',
	sky: '#56B4E9',
	olive: '#8A8417',
	slate: '#4D5A66'
} as const;

export type GroupColour = keyof typeof groupColours;

export const isGroupColour = (word: string): word is GroupColour => Object.hasOwn(groupColours, word);
