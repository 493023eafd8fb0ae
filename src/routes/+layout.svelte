<script lang="ts">
	import type { Snippet } from 'svelte';
	import Tips from '../lib/controls/Tips.svelte';
	import Toasts from '../lib/controls/Toasts.svelte';
	import { applyMode, rememberedMode } from '../lib/theme/mode.ts';
	import '../lib/theme/app.css';

	let { children }: { children: Snippet } = $props();
	applyMode(rememberedMode());
</script>

{@render children()}
<Toasts />
<Tips />
