<script lang="ts">
	import { type PictureView, viewOf } from './picture-view.ts';

	/** Two meshes over one another, each in a colour, at one scale and in one place. */
	const { first, second, names }: { first: string; second: string; names: readonly [string, string] } = $props();

	const views = $derived([viewOf(first), viewOf(second)] as const);
	/** What holds both, in lengths of the model. */
	const box = $derived.by(() => {
		const edges = views.map((v) => [v.x - 240 / v.scale, v.x + 240 / v.scale, v.y - 135 / v.scale, v.y + 135 / v.scale]);
		const low = (k: number) => Math.min(...edges.map((e) => e[k]!));
		const high = (k: number) => Math.max(...edges.map((e) => e[k]!));
		return { left: low(0), right: high(1), bottom: low(2), top: high(3) };
	});
	const place = ({ x, y, scale }: PictureView) => ({
		x: x - 240 / scale - box.left,
		y: box.top - y - 135 / scale,
		width: 480 / scale,
		height: 270 / scale
	});
	const url = (svg: string) => `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`;
	/** How light the paper of a picture is: it becomes white, so that two of them darken nothing. */
	const paper = 0.945;
	/** What is dark goes over into a colour. */
	const tinted = (...colour: number[]) =>
		colour.map((c) => `${[0.21, 0.72, 0.07].map((w) => (w * (1 - c)) / paper).join(' ')} 0 ${c}`).join(' ') + ' 0 0 0 1 0';
</script>

<svg
	viewBox="0 0 {box.right - box.left} {box.top - box.bottom}"
	role="img"
	aria-label="The meshes of {names[0]} and {names[1]} over one another"
>
	<filter id="first-tint" color-interpolation-filters="sRGB"><feColorMatrix values={tinted(0, 0.42, 0.45)} /></filter>
	<filter id="second-tint" color-interpolation-filters="sRGB"><feColorMatrix values={tinted(0.8, 0.32, 0)} /></filter>
	<g class="both">
		<image href={url(first)} {...place(views[0])} filter="url(#first-tint)" />
		<image class="over" href={url(second)} {...place(views[1])} filter="url(#second-tint)" />
	</g>
</svg>
<p><span class="one">{names[0]}</span> and <span class="two">{names[1]}</span>, at one scale and in one place</p>

<style>
	svg {
		width: 100%;
		max-height: 190px;
		background: #fff;
	}
	.both {
		isolation: isolate;
	}
	.over {
		mix-blend-mode: multiply;
	}
	p {
		color: var(--quiet);
		font-size: 12px;
	}
	.one,
	.two {
		padding: 0 4px;
		border-bottom: 3px solid #006b73;
		color: var(--ink);
	}
	.two {
		border-color: #cc5200;
	}
</style>
