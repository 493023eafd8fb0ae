<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import Standings from './Standings.svelte';
	import type { Standing } from './standings.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** What a delivery needs, and what of it is there: what is so, errors, and findings about labels. */
	const desk = useDesk();
	/** So many findings about labels are listed at most. */
	const mostFindings = 8;
	const more = $derived<Standing[]>([
		{
			ok: desk.errors === 0,
			text: desk.errors === 0 ? 'no error' : `${counted(desk.errors, 'error')} among the findings`,
			places: [],
			keys: []
		},
		...desk.labelProblems
			.filter(({ code }) => !['unlabelled', 'two-groups', 'owner-nowhere'].includes(code))
			.slice(0, mostFindings)
			.map(({ message, at }) => ({ ok: false, text: message, places: at ? [{ x: at.x, y: at.y }] : [], keys: [] }))
	]);
</script>

<Standings {more} />
