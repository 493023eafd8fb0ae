<script lang="ts">
	import { page } from '$app/state';
	import DeskScreen from '../../../lib/desk/DeskScreen.svelte';
</script>

{#key page.params.id}<DeskScreen id={page.params.id!} />{/key}
