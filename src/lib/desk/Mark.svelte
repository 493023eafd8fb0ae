<script lang="ts">
	let { size = 26 }: { size?: number } = $props();
</script>

<svg viewBox="0 0 32 32" width={size} height={size} aria-hidden="true">
	<path
		d="M3 27 16 4l13 23Z M9.5 15.5h13 M16 27l6.5-11.5 M16 27 9.5 15.5"
		fill="none"
		stroke="var(--kingfisher)"
		stroke-width="2"
		stroke-linejoin="round"
	/>
</svg>
