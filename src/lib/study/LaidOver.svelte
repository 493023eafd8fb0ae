<script lang="ts">
	import { boxOf, pictureUrl, viewOf } from './picture-view.ts';

	/** Two meshes over one another, each in a colour, at one scale and in one place. */
	const { first, second, names }: { first: string; second: string; names: readonly [string, string] } = $props();

	const boxes = $derived([boxOf(viewOf(first)), boxOf(viewOf(second))] as const);
	/** What holds both, in lengths of the model. */
	const whole = $derived({
		left: Math.min(boxes[0].left, boxes[1].left),
		right: Math.max(boxes[0].right, boxes[1].right),
		bottom: Math.min(boxes[0].bottom, boxes[1].bottom),
		top: Math.max(boxes[0].top, boxes[1].top)
	});
	const place = ({ left, right, bottom, top }: (typeof boxes)[number]) => ({
		x: left - whole.left,
		y: whole.top - top,
		width: right - left,
		height: top - bottom
	});
	/** How light the paper of a picture is: it becomes white, so that two of them darken nothing. */
	const paper = 0.945;
	/** What is dark goes over into a colour. */
	const tinted = (...colour: number[]) =>
		colour.map((c) => `${[0.21, 0.72, 0.07].map((w) => (w * (1 - c)) / paper).join(' ')} 0 ${c}`).join(' ') + ' 0 0 0 1 0';
</script>

<svg
	viewBox="0 0 {whole.right - whole.left} {whole.top - whole.bottom}"
	role="img"
	aria-label="The meshes of {names[0]} and {names[1]} over one another"
>
	<filter id="first-tint" color-interpolation-filters="sRGB"><feColorMatrix values={tinted(0, 0.42, 0.45)} /></filter>
	<filter id="second-tint" color-interpolation-filters="sRGB"><feColorMatrix values={tinted(0.8, 0.32, 0)} /></filter>
	<g class="both">
		<image href={pictureUrl(first)} {...place(boxes[0])} filter="url(#first-tint)" />
		<image class="over" href={pictureUrl(second)} {...place(boxes[1])} filter="url(#second-tint)" />
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
