<script lang="ts">
	import { capital } from '../../core/text/sentences.ts';
	import { dimensionsOf } from '../../core/recipe/edits/grips-of.ts';
	import type { TextDimension } from '../../core/recipe/edits/placements.ts';
	import { isA } from '../../core/recipe/language/statement.ts';
	import { setClause } from '../../core/recipe/edits/edits.ts';
	import { line } from '../../core/recipe/statements/line.ts';
	import { polyline } from '../../core/recipe/statements/polyline.ts';
	import { spline } from '../../core/recipe/statements/spline.ts';
	import { clauseText } from '../ledger/rows.ts';
	import type { Statement } from '../../core/recipe/language/syntax.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { tidyNumber } from '../../core/recipe/language/literals.ts';
	import { ARC, curveLength, LINE, pointAt, segmentCount, segmentPoint } from '../../core/geometry/curve.ts';
	import { notify } from '../controls/toaster.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import Cell from '../ledger/Cell.svelte';
	import { wrongWith } from '../ledger/checked.ts';
	import { movePoint, whyLocked } from './moving.ts';
	import { screenX, screenY, type View } from './view.ts';

	/** The dimensions of the selected curve, beside it, to be read and to be changed. */
	let { view }: { view: View } = $props();
	const desk = useDesk();

	const chosen = $derived.by(() => {
		const { result } = desk;
		const names = [...new Set(desk.selected('piece').map((p) => p.replace(/\[\d+\]$/, '')))];
		if (!result || names.length === 0) return undefined;
		// All of what one statement draws: one curve, sides of a rectangle, or what a placement brings.
		const list = names.flatMap((name) => result.model.curvesByName.get(name) ?? []);
		const lines = result.model.curveLines;
		if (list.length === 0 || list.some((c) => lines[c] !== lines[list[0]!])) return undefined;
		const curve = result.model.curves[list[0]!]!;
		const index = result.model.curveLines[list[0]!]!;
		const line = result.recipe.lines[index]!;
		// Sides of a rectangle are shown as it.
		return { curve, alone: list.length === 1, index, name: curve.name.split('.', 1)[0]!, statement: line.statement };
	});
	const shape = $derived.by(() => {
		if (!chosen) return undefined;
		const { curve } = chosen;
		const single = segmentCount(curve) === 1;
		const [a, b] = [pointAt(curve, 0), pointAt(curve, segmentCount(curve))];
		return {
			middle: segmentPoint(curve, segmentCount(curve) >> 1, 0.5),
			length: curveLength(curve),
			angle: single && curve.kinds[0] === LINE ? (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI : undefined,
			radius: single && curve.kinds[0] === ARC ? curve.data[6]! : undefined,
			a,
			b
		};
	});
	const brief = (value: number) => String(Number(value.toPrecision(7)));

	/** What the statement says by numbers of its own: a radius, width and height. */
	const dimensions = $derived.by(() => {
		const line = chosen ? desk.lineNow(chosen.index) : -1;
		return line >= 0 && desk.newest ? dimensionsOf({ ...desk.newest, recipe: desk.recipe }, line) : [];
	});
	const endOf = (statement: Statement | undefined) =>
		isA(line, statement) && statement.end.kind === 'name' ? statement.end.name : undefined;
	/** The named point at the end of a line, which moves when its length or angle is set. */
	const endPoint = $derived(endOf(chosen?.statement));
	const lockedEnd = $derived(endPoint === undefined ? 'its end is no point of its own' : whyLocked(desk.recipe, endPoint));

	/** What may be said of a line from a file: how far it may be thinned, and from which turn its joints are corners. */
	const lineClauses = $derived.by(() => {
		const statement = chosen?.statement;
		if (!chosen || !desk.result || (!isA(polyline, statement) && !isA(spline, statement)) || !statement.file) return [];
		const source = (clause: string, lead: string) => clauseText(desk.result!, chosen.index, clause).replace(lead, '').trim();
		return [
			{
				clause: 'thinned',
				lead: 'thinned within',
				label: 'thinned',
				title: 'Points are left out that then lie no farther from the line than this'
			},
			{
				clause: 'corners',
				lead: 'corners above',
				label: 'corners',
				title: 'Joints that turn by more than this are corners, like 60 deg'
			}
		].map((one) => ({ ...one, source: source(one.clause, one.lead) }));
	});

	function setLineClause({ clause, lead, label }: (typeof lineClauses)[number], typed: string): void {
		if (!chosen) return;
		const line = desk.recipe.lines[desk.lineNow(chosen.index)];
		if (!line?.statement) return;
		desk.edit(
			applyEdits(desk.text, setClause(line, clause, typed === '' ? null : `${lead} ${typed}`)),
			`${label} of ${chosen.name}: ${typed || 'not'}`
		);
	}

	/** Sets a dimension; an emptied one goes back to what it is by itself. */
	function setDimension({ label, set, clear }: TextDimension, typed: string): void {
		const edits = typed === '' ? clear?.() : set(typed);
		if (chosen && edits) desk.edit(applyEdits(desk.text, edits), `${label} of ${chosen.name}`);
	}

	function setEnd(length: number, angle: number): void {
		if (!chosen || !shape || endPoint === undefined) return;
		if (!(length > 0) || !Number.isFinite(angle)) {
			notify('A length is a number above zero, an angle a number of degrees.');
			return;
		}
		const turn = (angle * Math.PI) / 180;
		const size = Math.max(Math.abs(shape.a.x), Math.abs(shape.a.y), length);
		const [x, y] = [tidyNumber(shape.a.x + length * Math.cos(turn), size), tidyNumber(shape.a.y + length * Math.sin(turn), size)];
		desk.edit(movePoint(desk.recipe, endPoint, x, y), `Length of ${chosen.curve.name}`);
	}
</script>

{#if chosen && shape && (chosen.alone || dimensions.length > 0)}
	{@const left = Math.min(Math.max(screenX(view, shape.middle.x) + 14, 60), Math.max(60, view.width - 190))}
	{@const top = Math.min(Math.max(screenY(view, shape.middle.y) + 12, 110), Math.max(110, view.height - 90))}
	<div
		class="dimensions panel"
		style:left="{left}px"
		style:top="{top}px"
		role="group"
		aria-label="Dimensions of {chosen.curve.name}"
	>
		{#each dimensions as dimension (dimension.label)}
			<label
				>{dimension.label}
				<Cell
					display={brief(dimension.value)}
					source={dimension.source || brief(dimension.value)}
					label="{capital(dimension.label)} of {chosen.name}"
					title={dimension.source}
					namesNumbers
					check={(typed) => wrongWith(desk.newest, `let checked_value = ${typed}`)}
					onset={(typed) => setDimension(dimension, typed)}
				/></label
			>
		{/each}
		{#each lineClauses as field (field.clause)}
			<label data-tip={field.title}
				>{field.label}
				<Cell
					display={field.source || '–'}
					source={field.source}
					label="{capital(field.label)} of {chosen.name}"
					namesNumbers
					check={(typed) => (typed === '' ? undefined : wrongWith(desk.newest, `let checked_value = ${typed}`))}
					onset={(typed) => setLineClause(field, typed)}
				/></label
			>
		{/each}
		{#if chosen.alone && shape.radius !== undefined && !dimensions.some(({ label }) => label === 'radius')}
			<label>radius <Cell display={brief(shape.radius)} label="Radius of {chosen.name}" disabled onset={() => {}} /></label>
		{/if}
		{#if chosen.alone}<label
				>length <Cell
					display={brief(shape.length)}
					label="Length of {chosen.curve.name}"
					title={shape.angle === undefined ? '' : (lockedEnd ?? '')}
					disabled={shape.angle === undefined || lockedEnd !== undefined}
					onset={(typed) => setEnd(Number(typed), shape.angle!)}
				/></label
			>{/if}
		{#if chosen.alone && shape.angle !== undefined}
			<label
				>angle ° <Cell
					display={brief(shape.angle)}
					label="Angle of {chosen.curve.name}"
					title={lockedEnd ?? ''}
					disabled={lockedEnd !== undefined}
					onset={(typed) => setEnd(shape.length, Number(typed))}
				/></label
			>
		{/if}
	</div>
{/if}

<style>
	.dimensions {
		position: absolute;
		display: grid;
		gap: 2px;
		padding: 4px 8px;
		width: 132px;
		font-size: 11.5px;
	}
	label {
		display: grid;
		grid-template-columns: 48px 1fr;
		align-items: center;
		color: var(--quiet);
	}
</style>
