<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import { regionAreas } from '../../core/mesh/mesh.ts';
	import { setCorners, setFill, setSize } from '../../core/recipe/edits/intents.ts';
	import { boxOf } from '../../core/geometry/parts.ts';
	import { bareFaces, fillFaces, offeredFills } from '../desk/bare-faces.ts';
	import { faceOutlines } from '../drawing/outlines.ts';
	import type { Region } from '../../core/domain/regions.ts';
	import { fillMethods, methodOf } from '../../core/fill/methods.ts';
	import type { FillKind } from '../../core/recipe/statements/fill.ts';
	import { globalSizes } from '../../core/recipe/statements/size.ts';
	import { notify } from '../controls/toaster.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import { wrongWith } from './checked.ts';
	import Cell from './Cell.svelte';
	import { clauseText, short } from './rows.ts';
	import ThingName from './ThingName.svelte';
	import LayerList from './LayerList.svelte';
	import ZoneList from './ZoneList.svelte';

	const desk = useDesk();
	const selected = $derived(desk.selected('region'));
	const rows = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		const areas = regionAreas(result.mesh);
		const elements = new Array<number>(result.regions.length).fill(0);
		for (const r of result.mesh.triangleRegion) elements[r]!++;
		for (const r of result.mesh.quadRegion) elements[r]!++;
		return result.regions.map((region, r) => ({
			region,
			method: methodOf(region),
			elements: elements[r]!,
			area: areas[r]!,
			sizeText: ownSize(region.fillLine),
			layout: layoutText(region.fillLine)
		}));
	});
	const corners = $derived(desk.selected('point'));
	/** The structured region that is selected, or the only one. */
	const structured = $derived.by(() => {
		const all = rows.filter((row) => row.region.fill === 'structured' && !row.region.blocks);
		return all.find((row) => selected.includes(row.region.name)) ?? (all.length === 1 ? all[0] : undefined);
	});

	/** The points that are selected become the corners of a region. */
	function useCorners({ name, statement, fillLine }: Region): void {
		desk.edit(setCorners(desk.recipe, statement, fillLine, corners), `Corners of ${name}: ${corners.join(', ')}`);
	}

	const global = $derived(desk.result && globalSizes(desk.result.model).at(-1));
	const bare = $derived(desk.result ? bareFaces(desk.result) : []);
	/** The middle of the box around an outline, to distinguish them by. */
	const whereIs = (face: number) => {
		const [x0, y0, x1, y1] = boxOf(faceOutlines(desk.result!.arrangement, face)[0]!) as [number, number, number, number];
		const text = (value: number, size: number) =>
			String(Number(value.toFixed(Math.max(0, 2 - Math.floor(Math.log10(size || 1))))));
		return `around (${text((x0 + x1) / 2, x1 - x0)}, ${text((y0 + y1) / 2, y1 - y0)}), ${short(x1 - x0)} × ${short(y1 - y0)}`;
	};
	const sizeSource = $derived(global ? clause(global.line, 'size') : '');
	const growthSource = $derived(global ? clause(global.line, 'growth').replace(/^growth\s+/, '') : '');

	function clause(line: number, name: string): string {
		return clauseText(desk.result!, line, name);
	}

	/** The size that the region's own fill statement gives, as written. */
	const ownSize = (line: number) => (line < 0 ? '' : clause(line, 'size').replace(/^size\s+/, ''));
	/** What a structured fill says of its corners, its divisions across and its smoothing, as written. */
	const layoutText = (line: number) =>
		line < 0
			? ''
			: ['corners', 'seam', 'across', 'spacing', 'smooth']
					.map((name) => clause(line, name))
					.filter(Boolean)
					.join(' ');
	const meant = (name: string) => (selected.includes(name) && selected.length > 1 ? selected : [name]);
	const say = (names: string[]) => (names.length === 1 ? names[0] : `${names.length} regions`);

	function fill(name: string, kind: FillKind, rest: string): void {
		// The parts of a region that curves cut up are filled as one.
		const names = [...new Set(meant(name).map((n) => n.replace(/\[\d+\]$/, '')))];
		desk.edit(setFill(desk.recipe, names, kind, rest), `Fill ${say(names)}: ${kind} ${rest}`.trim());
	}

	/** A way to fill; the size that the region has is kept where it means something. */
	function chooseFill(name: string, chosen: string, sizeText: string): void {
		const takesSize = fillMethods.find((method) => method.source === chosen)?.takesSize;
		const [kind, ...pattern] = chosen.split(' ') as [FillKind, ...string[]];
		if (takesSize && sizeText) pattern.push(`size ${sizeText}`);
		fill(name, kind, pattern.join(' '));
	}

	/** Makes outlines regions and fills them, in one edit. */
	function fillBare(faces: readonly number[], kind: FillKind): void {
		const { text, names } = fillFaces(desk.recipe, desk.result!, faces, kind);
		desk.edit(text, `Fill ${names.length === 1 ? names[0] : `${names.length} regions`}: ${kind}`);
	}
</script>

<div class="everywhere">
	<label
		>Size everywhere <Cell
			display={global ? String(global.size) : short(desk.result?.fallbackSize ?? 0)}
			source={sizeSource}
			label="Size everywhere"
			namesNumbers
			check={(typed) => wrongWith(desk.newest, `size ${typed}`)}
			onset={(typed) => typed !== '' && desk.edit(setSize(desk.recipe, 'size', typed), `Size ${typed}`)}
		/></label
	>
	<label
		>growth <Cell
			display={String(global?.growth ?? 1.2)}
			source={growthSource}
			label="Growth of sizes"
			disabled={!global}
			check={(typed) => wrongWith(desk.newest, `size ${sizeSource || 1} growth ${typed}`)}
			onset={(typed) => desk.edit(setSize(desk.recipe, 'growth', typed === '' ? null : typed), `Growth ${typed}`)}
		/></label
	>
	<label data-tip="More elements than this are made only after a question"
		>ask before more than <Cell
			display={desk.meshing.askAbove.toLocaleString('en')}
			source={String(desk.meshing.askAbove)}
			label="Ask above"
			onset={(typed) => {
				const limit = Number(typed.replaceAll(/[ ,]/g, ''));
				if (limit >= 1) desk.setLimit(Math.round(limit));
				else notify(`“${typed}” is no number of elements to ask above; it is 1 or more, like 2000000.`);
			}}
		/> elements</label
	>
</div>
{#if selected.length > 1}<p class="hint">
		{selected.length} regions selected: an edit in one of their rows goes to all of them.
	</p>{/if}
<table>
	<thead
		><tr
			><th>region</th><th class="text">fill</th><th data-tip="Element size; empty to take the size everywhere">size or layout</th
			><th>elements</th><th>area</th></tr
		></thead
	>
	<tbody>
		{#each rows as { region, method, elements, area, sizeText, layout } (region.name)}
			<tr
				class:selected={desk.isSelected('region', region.name)}
				class:hovered={desk.hover === thingKey('region', region.name)}
				onpointerenter={() => (desk.hover = thingKey('region', region.name))}
				onpointerleave={() => (desk.hover = '')}
			>
				<td class="name"><ThingName kind="region" name={region.name} /></td>
				<td>
					<select
						aria-label="Fill of {region.name}"
						value={method?.source ?? 'none'}
						onchange={(event) => chooseFill(region.name, event.currentTarget.value, sizeText)}
					>
						{#each fillMethods as { source, title } (source)}<option value={source}>{title}</option>{/each}
						<option value="none">none</option>
					</select>
				</td>
				<td
					>{#if method?.takesSize}<Cell
							display={String(region.size ?? desk.result?.fallbackSize ?? '')}
							source={sizeText}
							label="Size in {region.name}"
							namesNumbers
							check={(typed) => wrongWith(desk.newest, `fill ${region.statement} triangles size ${typed}`)}
							onset={(typed) => chooseFill(region.name, method.source, typed)}
						/>{:else if method}<Cell
							display={layout || 'automatic'}
							source={layout}
							align="left"
							label="Layout of {region.name}"
							title="corners a, b, c, d · seam p to q · into 8 first 0.1 at hole · smooth 20"
							check={(typed) => wrongWith(desk.newest, `fill ${region.statement} structured ${typed}`)}
							onset={(typed) => fill(region.name, 'structured', typed)}
						/>{/if}</td
				>
				<td class="number">{elements.toLocaleString('en')}</td>
				<td class="number">{elements > 0 ? short(area) : '–'}</td>
			</tr>
		{/each}
	</tbody>
</table>
{#each desk.result?.blocks ?? [] as { region, count, cuts } (region)}<p class="hint">
		{region}: {counted(count, 'block')}, {counted(cuts.length, 'line')} between them. Counts that are typed around it hold; sizes, spacings
		and cuts drawn by hand change them.
	</p>{/each}
{#if corners.length >= 3 && structured}
	<div class="offer">
		<span>Corners of {structured.region.name}: {corners.join(', ')}</span>
		<button
			class="action"
			data-tip="The points that are selected become the corners of the selected region"
			onclick={() => useCorners(structured.region)}>Use these corners</button
		>
	</div>
{/if}
{#if selected.length === 1 && structured && !structured.region.halved}<p class="hint">
		Drag a corner of {structured.region.name} to another junction of its outline; click a junction to make it a corner, or no longer
		one. Facing sides have the same bars.
	</p>{/if}
{#if rows.length === 0}<p class="hint">No region yet.</p>{/if}
{#if rows.some((row) => row.region.fill !== 'none')}
	<LayerList />
	<ZoneList />
{/if}
{#if bare.length > 0}
	<h3>Closed outlines that are no region yet: {bare.length}</h3>
	{#if bare.length > 1}
		<div class="offer">
			<span>all of them</span>
			{#each offeredFills as [kind, title] (kind)}<button
					class="action"
					disabled={!desk.isCurrent}
					onclick={() => fillBare(bare, kind)}>{title}</button
				>{/each}
		</div>
	{/if}
	{#each bare.slice(0, 12) as face (face)}
		<div
			class="offer"
			class:hovered={desk.hover === `face ${face}`}
			role="group"
			aria-label="Outline {whereIs(face)}"
			onpointerenter={() => (desk.hover = `face ${face}`)}
			onpointerleave={() => (desk.hover = '')}
		>
			<span class="number">{whereIs(face)}</span>
			{#each offeredFills as [kind, title] (kind)}<button
					class="action"
					disabled={!desk.isCurrent}
					onclick={() => fillBare([face], kind)}>{title}</button
				>{/each}
		</div>
	{/each}
	{#if bare.length > 12}<p class="hint">and {bare.length - 12} more: click one in the drawing to fill it.</p>{/if}
{/if}

<style>
	.everywhere {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 16px;
		padding: 6px 8px;
		border-bottom: 1px solid var(--edge);
	}
	.everywhere label {
		display: flex;
		align-items: center;
		gap: 4px;
		color: var(--quiet);
		white-space: nowrap;
	}
	.everywhere label :global(input) {
		width: 62px;
		border-color: var(--edge);
		color: var(--ink);
	}
	.everywhere label:last-child :global(input) {
		width: 92px;
	}
	h3 {
		padding: 10px 8px 2px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	.offer {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 4px 8px;
		font-size: 12px;
	}
	.offer.hovered {
		background: color-mix(in srgb, var(--marigold-soft) 55%, transparent);
	}
	.offer .number {
		font-size: 11.5px;
	}
	.offer span {
		flex: 1;
	}
	th:nth-child(3),
	td:nth-child(3) {
		width: 110px;
	}
</style>
