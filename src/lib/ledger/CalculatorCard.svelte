<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import Choice from '../controls/Choice.svelte';
	import { namesOf } from '../../core/recipe/edits/edits.ts';
	import { asParameters, calculate, calculators, fluids, writtenSize } from '../../core/recipe/physics/calculators.ts';
	import { toRecipeUnits } from '../../core/recipe/language/units.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** Sizes from physics, put straight into a statement. */
	let {
		targets,
		gives,
		onuse,
		onclose
	}: {
		/** The pieces or regions that are selected; the size goes to them. */
		targets: readonly string[];
		/** What the sizes are for; all where it is not said. */
		gives?: 'first' | 'size';
		/** The size as it is to be written, and the statements that it needs, if any. */
		onuse: (size: string, statements: string) => void;
		onclose: () => void;
	} = $props();
	const desk = useDesk();

	const offered = $derived(gives ? calculators.filter((c) => c.gives === gives) : calculators);
	let picked = $state<string | undefined>();
	const chosen = $derived(picked ?? offered[0]!.key);
	let law = $state<string>('');
	let fluid = $state('water');
	let typed = $state<Record<string, string>>({});
	/** Whether the numbers go into the recipe as parameters, so that the size follows them. */
	let parametric = $state(false);
	const calculator = $derived(calculators.find((c) => c.key === chosen)!);
	const lawOf = $derived(calculator.laws?.includes(law) ? law : (calculator.laws?.[0] ?? ''));
	const hasFluid = $derived(calculator.quantities.some((q) => q.key === 'viscosity'));
	const units = $derived(desk.result?.model.units ?? 'mm');

	/** The numbers: what was typed, else the fluid's, else the example's. */
	const values = $derived(
		Object.fromEntries(
			calculator.quantities.map(({ key, value }) => [
				key,
				typed[key] !== undefined
					? Number(typed[key].replace(',', '.'))
					: hasFluid && key in fluids[fluid]!
						? fluids[fluid]![key as 'density']
						: value
			])
		)
	);
	const outcome = $derived.by(() => {
		try {
			const found = calculate(calculator, values, lawOf);
			return { ...found, written: writtenSize(toRecipeUnits(found.size, 'm', units)) };
		} catch (error) {
			return { problem: sentenceOf(error, 'the calculation') };
		}
	});
	const brief = (value: number) => String(Number(value.toPrecision(4)));

	function use(written: string): void {
		if (!parametric) return onuse(written, '');
		const names = desk.recipe.lines.flatMap(({ statement }) => (statement ? namesOf(statement).map((use) => use.name) : []));
		const { statements, size } = asParameters(calculator, values, lawOf, (name) => names.includes(name));
		onuse(size, statements.join('\n'));
	}

	function choose(key: string): void {
		picked = key;
	}

	function chooseFluid(name: string): void {
		fluid = name;
		typed = Object.fromEntries(Object.entries(typed).filter(([key]) => !(key in fluids[name]!)));
	}
</script>

<section class="card" aria-label="Size from physics">
	<label
		>Size from <select value={chosen} onchange={(event) => choose(event.currentTarget.value)} aria-label="Calculator">
			{#each offered as { key, title } (key)}<option value={key}>{title}</option>{/each}
		</select></label
	>
	<div class="fields">
		{#if calculator.laws}<label
				><span>law</span><select value={lawOf} onchange={(event) => (law = event.currentTarget.value)} aria-label="Law">
					{#each calculator.laws as name (name)}<option value={name}>{name}</option>{/each}
				</select></label
			>{/if}
		{#if hasFluid}<label
				><span>fluid, 20 °C</span><select
					value={fluid}
					onchange={(event) => chooseFluid(event.currentTarget.value)}
					aria-label="Fluid"
				>
					{#each Object.keys(fluids) as name (name)}<option value={name}>{name}</option>{/each}
				</select></label
			>{/if}
		{#each calculator.quantities as { key, title, unit } (key)}
			<label
				><span>{title}{unit ? `, ${unit}` : ''}</span><input
					class="field number"
					inputmode="decimal"
					value={typed[key] ?? String(values[key])}
					oninput={(event) => (typed = { ...typed, [key]: event.currentTarget.value })}
				/></label
			>
		{/each}
	</div>
	<p class="formula">{calculator.formula}</p>
	{#if 'problem' in outcome}<p class="problem" role="status">{outcome.problem}.</p>
	{:else}
		<p class="outcome" role="status">
			{#each outcome.steps as [name, value, unit] (name)}<span class="number">{name} {brief(value)} {unit}</span>{/each}
			<b class="number">{outcome.written} {units}</b>
		</p>
	{/if}
	<p class="source">{calculator.source}</p>
	<Choice bind:checked={parametric}>as parameters: the size follows when a number changes</Choice>
	<div class="buttons">
		<button
			class="action"
			disabled={'problem' in outcome || targets.length === 0}
			onclick={() => !('problem' in outcome) && use(outcome.written)}
			>{targets.length === 0 ? 'Select what it is for' : `Use it on ${targets[0]}`}</button
		>
		<button class="action" onclick={onclose}>Close</button>
	</div>
</section>

<style>
	.card {
		display: grid;
		gap: 6px;
		margin: 0 8px 8px;
		padding: 8px 10px;
		border: 1px solid var(--edge);
		border-radius: 4px;
		font-size: 12px;
	}
	.fields {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px 10px;
	}
	.fields label {
		display: grid;
		gap: 1px;
	}
	.fields span,
	.source {
		color: var(--quiet);
		font-size: 11px;
	}
	.formula {
		font-family: 'IBM Plex Mono', monospace;
	}
	.outcome {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 12px;
	}
	.problem {
		color: var(--brick);
	}
	.buttons {
		display: flex;
		justify-content: flex-end;
		gap: 8px;
	}
</style>
