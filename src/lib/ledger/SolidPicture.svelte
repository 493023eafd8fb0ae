<script lang="ts">
	import { onMount } from 'svelte';
	import {
		BufferAttribute,
		BufferGeometry,
		Color,
		DirectionalLight,
		DoubleSide,
		Group,
		HemisphereLight,
		LineBasicMaterial,
		LineSegments,
		Mesh,
		MeshLambertMaterial,
		PerspectiveCamera,
		Scene,
		WebGLRenderer
	} from 'three';
	import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** The solid as it will be delivered, to be turned by the pointer; drawn only when something changes. */
	const desk = useDesk();
	let canvas: HTMLCanvasElement;
	let problem = $state('');
	let isDrawn = $state(false);
	let draw: (() => void) | undefined;
	const scene = new Scene();
	const body = new Group();
	const camera = new PerspectiveCamera(30, 1, 0.01, 100);

	onMount(() => {
		let renderer: WebGLRenderer;
		try {
			renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
		} catch {
			problem = 'There is no picture here, as this browser draws no WebGL; the delivery is the same.';
			return;
		}
		scene.add(body, new HemisphereLight(0xffffff, 0x9aa0a6, 2.2));
		const light = new DirectionalLight(0xffffff, 1.4);
		light.position.set(2, 3, 4);
		scene.add(light);
		camera.position.set(1.1, 0.8, 2.3);
		const controls = new OrbitControls(camera, canvas);
		controls.enablePan = false;
		draw = () => renderer.render(scene, camera);
		controls.addEventListener('change', draw);
		const resize = new ResizeObserver(() => {
			const { clientWidth: width, clientHeight: height } = canvas;
			renderer.setPixelRatio(devicePixelRatio);
			renderer.setSize(width, height, false);
			camera.aspect = width / Math.max(1, height);
			camera.updateProjectionMatrix();
			draw?.();
		});
		resize.observe(canvas);
		return () => {
			resize.disconnect();
			controls.dispose();
			clear();
			renderer.dispose();
		};
	});

	function clear(): void {
		for (const child of [...body.children]) {
			const { geometry, material } = child as Mesh<BufferGeometry, MeshLambertMaterial>;
			geometry.dispose();
			material.dispose();
			body.remove(child);
		}
	}

	// The surface of the present mesh, once it is there.
	$effect(() => {
		const { result } = desk;
		if (!result || !desk.isCurrent) return;
		let isOver = false;
		void desk.surface().then(
			(surface) => {
				if (isOver) return;
				clear();
				isDrawn = false;
				problem = '';
				if (!surface) {
					problem = 'The solid has too many sides for a small picture; it is delivered all the same.';
					return;
				}
				const places = new BufferAttribute(surface.places, 3);
				for (const { colour, triangles, edges } of surface.parts) {
					const faces = new BufferGeometry();
					faces.setAttribute('position', places);
					faces.setIndex(new BufferAttribute(triangles, 1));
					faces.computeVertexNormals();
					body.add(
						new Mesh(
							faces,
							new MeshLambertMaterial({
								color: new Color(colour),
								side: DoubleSide,
								flatShading: true,
								polygonOffset: true,
								polygonOffsetFactor: 1
							})
						)
					);
					const lines = new BufferGeometry();
					lines.setAttribute('position', places);
					lines.setIndex(new BufferAttribute(edges, 1));
					body.add(
						new LineSegments(
							lines,
							new LineBasicMaterial({
								color: 0x22303a,
								transparent: true,
								opacity: surface.parts.reduce((sum, part) => sum + part.edges.length, 0) > 20_000 ? 0.12 : 0.35
							})
						)
					);
				}
				const scale = 1 / (surface.reach || 1);
				body.scale.setScalar(scale);
				isDrawn = true;
				draw?.();
			},
			() => {
				// The mesh was overtaken; the next one is drawn.
			}
		);
		return () => {
			isOver = true;
		};
	});
</script>

<figure>
	<canvas bind:this={canvas} aria-label="The solid; drag to turn it" data-drawn={isDrawn}></canvas>
	{#if problem}<figcaption>{problem}</figcaption>{/if}
</figure>

<style>
	figure {
		margin: 6px 0;
	}
	canvas {
		display: block;
		width: 100%;
		height: 190px;
		border: 1px solid var(--edge);
		border-radius: 3px;
		background: var(--paper);
		cursor: grab;
		touch-action: none;
	}
	figcaption {
		color: var(--quiet);
		font-size: 11.5px;
	}
</style>
