import { interpolateCividis } from 'd3-scale-chromatic';
import * as THREE from 'three';
import type { Measure } from '../../core/quality/measure.ts';
import { Unchanged } from './unchanged.ts';
import type { MeshElements } from '../../core/mesh/mesh.ts';
import type { MeasureResult } from '../../core/quality/quality.ts';
import {
	meshFragmentShader,
	meshVertexShader,
	pictureFragmentShader,
	pictureVertexShader,
	textureWidth
} from './mesh-shaders.ts';
import type { View } from './view.ts';

/** What is shown: a mesh, and a measure of its elements. */
export interface ShownMesh {
	mesh: MeshElements;
	measure: { taken: MeasureResult };
}

/** How the mesh is shown. */
export interface MeshAppearance {
	line: string;
	tint: readonly string[];
	lit: string;
	/** Opacity of the whole. */
	strength: number;
	/** Not, so that the mesh shows through, or fully. */
	colourByQuality: false | 'lightly' | 'fully';
	/** Values of the measure that are lit. */
	brush: readonly [number, number] | undefined;
}

/** A mesh with more elements than this is not drawn anew while the view moves. */
const heavy = 150_000;
/** How long the view must rest, in milliseconds and in frames of the present pace, before a heavy mesh is drawn anew. */
const rest = { least: 140, frames: 3, most: 1000 };
/** A drawing that takes longer than this, in milliseconds, is not made anew at every change of the look either. */
const slow = 40;
/** Width and height of the picture of the whole mesh that shows beyond the last one while the view moves. */
const overviewSize = 1024;

/** Which part of the plane a picture shows: its middle, relative to the origin of the mesh, and half its sides. */
interface Frame {
	x: number;
	y: number;
	halfWidth: number;
	halfHeight: number;
}

/**
 * The mesh in one draw call; triangles and quadrilaterals alike. A heavy one is drawn to a picture,
 * which is moved and scaled as long as the view moves, over a coarser picture of the whole. Where even
 * one picture takes long, a new look waits until it rests; a new mesh never does.
 */
export class MeshView {
	private readonly renderer: THREE.WebGLRenderer;
	private readonly camera = new THREE.Camera();
	private readonly mesh: Drawable;
	private readonly picture: Drawable;
	private readonly near = new THREE.WebGLRenderTarget(1, 1, { depthBuffer: false });
	private readonly whole = new THREE.WebGLRenderTarget(overviewSize, overviewSize, { depthBuffer: false });
	/** What the pictures show; undefined until taken, or when what they show has changed. */
	private nearFrame: Frame | undefined;
	private wholeFrame: Frame | undefined;
	private settling: ReturnType<typeof setTimeout> | undefined;
	private lastDrawn = 0;
	/** Whether the look has changed since the pictures were taken. */
	private isStale = false;
	/** Counts what was taken to be shown. */
	private content = 0;
	private readonly drawn = new Unchanged();
	private readonly shown = new Unchanged();
	/** How long the card took for the last picture, in milliseconds; Infinity as long as it is at it. */
	private cost = 0;
	/** Coordinates on the card are relative to this, so that single precision suffices. */
	private box = { x: 0, y: 0, halfWidth: 1, halfHeight: 1 };
	private elements = 0;
	private result: ShownMesh | undefined;
	private look = '';

	constructor(canvas: HTMLCanvasElement) {
		this.renderer = new THREE.WebGLRenderer({ canvas, alpha: true, antialias: false, premultipliedAlpha: true });
		this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
		this.renderer.autoClear = false;
		this.renderer.setClearColor(0, 0);
		const colours = new Uint8Array(256 * 4);
		for (let i = 0; i < 256; i++) {
			const [r, g, b] = interpolateCividis(i / 255)
				.match(/\d+/g)!
				.map(Number);
			colours.set([r!, g!, b!, 255], 4 * i);
		}
		const scale = new THREE.DataTexture(colours, 256, 1);
		scale.needsUpdate = true;
		this.mesh = new Drawable(meshVertexShader, meshFragmentShader, {
			blending: THREE.CustomBlending,
			blendSrc: THREE.OneFactor,
			blendDst: THREE.OneMinusSrcAlphaFactor,
			uniforms: {
				nodes: { value: null },
				corners: { value: null },
				values: { value: null },
				regions: { value: null },
				triangles: { value: 0 },
				centre: { value: new THREE.Vector2() },
				half_: { value: new THREE.Vector2(1, 1) },
				line: { value: new THREE.Vector3() },
				lit: { value: new THREE.Vector3() },
				tints: { value: [0, 1, 2, 3].map(() => new THREE.Vector3()) },
				byQuality: { value: 0 },
				range: { value: new THREE.Vector3(0, 1, 1) },
				brush: { value: new THREE.Vector2(0, 0) },
				scale: { value: scale }
			}
		});
		this.picture = new Drawable(pictureVertexShader, pictureFragmentShader, {
			blending: THREE.NoBlending,
			uniforms: { place: { value: new THREE.Vector4() }, picture: { value: null } }
		});
		this.picture.count(6);
	}

	/** Takes a new mesh. */
	show(result: ShownMesh): void {
		const { x, y, triangles, quads, triangleRegion, quadRegion } = result.mesh;
		// A new label leaves the arrays as they are.
		const isSame = this.result?.mesh.x === x && this.result.mesh.triangleRegion === triangleRegion;
		this.result = result;
		if (isSame) return;
		let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
		for (let i = 0; i < x.length; i++) {
			minX = Math.min(minX, x[i]!);
			maxX = Math.max(maxX, x[i]!);
			minY = Math.min(minY, y[i]!);
			maxY = Math.max(maxY, y[i]!);
		}
		const [originX, originY] = x.length > 0 ? [(minX + maxX) / 2, (minY + maxY) / 2] : [0, 0];
		this.box = { x: originX, y: originY, halfWidth: (maxX - minX) / 2, halfHeight: (maxY - minY) / 2 };
		this.elements = triangleRegion.length + quadRegion.length;
		this.mesh.list('nodes', 2, x.length, Float32Array, (nodes) => {
			for (let i = 0; i < x.length; i++) {
				nodes[2 * i] = x[i]! - originX;
				nodes[2 * i + 1] = y[i]! - originY;
			}
		});
		this.mesh.list('corners', 1, triangles.length + quads.length, Uint32Array, (corners) => {
			corners.set(triangles);
			corners.set(quads, triangles.length);
		});
		this.mesh.list('regions', 1, this.elements, Uint8Array, (regions) => {
			for (let t = 0; t < triangleRegion.length; t++) regions[t] = triangleRegion[t]! % 4;
			for (let q = 0; q < quadRegion.length; q++) regions[triangleRegion.length + q] = quadRegion[q]! % 4;
		});
		this.mesh.uniforms.triangles!.value = triangleRegion.length;
		this.mesh.count(3 * triangleRegion.length + 6 * quadRegion.length);
		this.forget();
	}

	/** Takes the values of a measure, one per element. */
	measure(result: ShownMesh, { low, high, best }: Measure): void {
		this.colours(result.measure.taken.values, low, high, best === 'high');
	}

	/** Takes the sizes at the nodes: an element has the mean of its own, on a scale of ratios. */
	sizes(result: ShownMesh, sizes: Float64Array): void {
		const { triangles, quads, triangleRegion, quadRegion } = result.mesh;
		const values = new Float32Array(triangleRegion.length + quadRegion.length);
		let [low, high] = [Infinity, -Infinity];
		const take = (nodes: Uint32Array, corners: number, offset: number) => {
			for (let e = 0; e * corners < nodes.length; e++) {
				let sum = 0;
				for (let k = 0; k < corners; k++) sum += sizes[nodes[e * corners + k]!]!;
				const value = Math.log(sum / corners);
				values[offset + e] = value;
				[low, high] = [Math.min(low, value), Math.max(high, value)];
			}
		};
		take(triangles, 3, 0);
		take(quads, 4, triangleRegion.length);
		this.colours(values, low, high > low ? high : low + 1, true);
	}

	private colours(values: Float32Array, low: number, high: number, highIsBest: boolean): void {
		if (this.shown.isSame([this.mesh, values, this.elements])) return;
		this.mesh.list('values', 1, values.length, Float32Array, (list) => list.set(values));
		(this.mesh.uniforms.range!.value as THREE.Vector3).set(low, high, highIsBest ? 1 : 0);
		this.forget();
	}

	/** What the pictures show is no longer so. */
	private forget(): void {
		this.content++;
		this.nearFrame = this.wholeFrame = undefined;
	}

	draw(view: View, { strength, ...look }: MeshAppearance, pixelRatio: number): void {
		// The page fades the canvas: however many elements there are, nothing is drawn anew for it.
		this.renderer.domElement.style.opacity = String(strength);
		// A picture that would be the same is not made again.
		if (this.drawn.isSame([view, JSON.stringify(look), pixelRatio, this.content])) return;
		// Setting a size, even the same one, makes a new buffer.
		const size = this.renderer.getSize(new THREE.Vector2());
		if (size.x !== view.width || size.y !== view.height || this.renderer.getPixelRatio() !== pixelRatio) {
			this.renderer.setPixelRatio(pixelRatio);
			this.renderer.setSize(view.width, view.height, false);
			this.near.setSize(Math.max(1, view.width * pixelRatio), Math.max(1, view.height * pixelRatio));
			this.nearFrame = undefined;
		}
		this.take(look);
		const frame = {
			x: view.x - this.box.x,
			y: view.y - this.box.y,
			halfWidth: view.width / 2 / view.scale,
			halfHeight: view.height / 2 / view.scale
		};
		clearTimeout(this.settling);
		if (this.elements <= heavy) this.drawMesh(frame, null);
		else {
			if (!this.nearFrame || (this.isStale && this.cost <= slow)) this.takeNear(frame);
			this.drawPictures(frame);
			const pace = performance.now() - this.lastDrawn;
			this.lastDrawn += pace;
			this.settling = setTimeout(() => this.settle(frame), Math.min(rest.most, Math.max(rest.least, rest.frames * pace)));
		}
	}

	private take(look: Omit<MeshAppearance, 'strength'>): void {
		const key = JSON.stringify(look);
		if (key === this.look) return;
		this.look = key;
		this.isStale = true;
		this.wholeFrame = undefined;
		const { uniforms } = this.mesh;
		setColour(uniforms.line!.value, look.line);
		setColour(uniforms.lit!.value, look.lit);
		look.tint.forEach((tint, k) => setColour(uniforms.tints!.value[k], tint));
		uniforms.byQuality!.value = look.colourByQuality === 'fully' ? 1 : look.colourByQuality ? 0.5 : 0;
		uniforms.brush!.value.set(look.brush?.[0] ?? 0, look.brush?.[1] ?? 0);
	}

	/** Draws anew what moved, once it rests, and the picture of the whole for the next time that it moves, where the other shows less. */
	private settle(frame: Frame): void {
		this.takeNear(frame);
		if (!this.wholeFrame && !this.isAllIn(frame)) {
			const half = 1.02 * Math.max(this.box.halfWidth, this.box.halfHeight, Number.MIN_VALUE);
			this.wholeFrame = { x: 0, y: 0, halfWidth: half, halfHeight: half };
			this.drawMesh(this.wholeFrame, this.whole);
		}
		this.drawPictures(frame);
	}

	/** Whether a picture shows all of the mesh. */
	private isAllIn({ x, y, halfWidth, halfHeight }: Frame): boolean {
		const { box } = this;
		return Math.abs(x) + box.halfWidth <= halfWidth && Math.abs(y) + box.halfHeight <= halfHeight;
	}

	private takeNear(frame: Frame): void {
		if (this.nearFrame && !this.isStale && same(this.nearFrame, frame)) return;
		this.nearFrame = frame;
		this.isStale = false;
		this.drawMesh(frame, this.near);
		this.takeTime();
	}

	/** Finds out how long the card is busy with what it was just given, without waiting for it. */
	private takeTime(): void {
		const context = this.renderer.getContext() as WebGL2RenderingContext;
		const fence = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0);
		if (!fence) return;
		context.flush();
		const start = performance.now();
		this.cost = Infinity;
		const look = () => {
			const cost = performance.now() - start;
			if (context.clientWaitSync(fence, 0, 0) === context.TIMEOUT_EXPIRED && cost < 10_000) {
				setTimeout(look, 5);
				return;
			}
			context.deleteSync(fence);
			this.cost = cost;
		};
		setTimeout(look, 5);
	}

	private drawMesh(frame: Frame, target: THREE.WebGLRenderTarget | null): void {
		this.mesh.uniforms.centre!.value.set(frame.x, frame.y);
		this.mesh.uniforms.half_!.value.set(frame.halfWidth, frame.halfHeight);
		this.renderer.setRenderTarget(target);
		this.renderer.clear();
		this.renderer.render(this.mesh.scene, this.camera);
		this.renderer.setRenderTarget(null);
	}

	private drawPictures(frame: Frame): void {
		this.renderer.clear();
		for (const [shown, { texture }] of [
			[this.wholeFrame, this.whole],
			[this.nearFrame, this.near]
		] as const) {
			if (!shown) continue;
			const [x, y] = [(shown.x - frame.x) / frame.halfWidth, (shown.y - frame.y) / frame.halfHeight];
			const [w, h] = [shown.halfWidth / frame.halfWidth, shown.halfHeight / frame.halfHeight];
			this.picture.uniforms.place!.value.set(x - w, y - h, x + w, y + h);
			this.picture.uniforms.picture!.value = texture;
			this.renderer.render(this.picture.scene, this.camera);
		}
	}

	close(): void {
		clearTimeout(this.settling);
		for (const part of [this.mesh, this.picture, this.near, this.whole, this.renderer]) part.dispose();
	}
}

/** Something drawn by the number of its vertices alone, with lists in textures. */
class Drawable {
	readonly scene = new THREE.Scene();
	readonly uniforms: Record<string, THREE.IUniform>;
	private readonly geometry = new THREE.BufferGeometry();
	private readonly material: THREE.RawShaderMaterial;

	constructor(vertexShader: string, fragmentShader: string, parameters: THREE.ShaderMaterialParameters) {
		this.uniforms = parameters.uniforms!;
		this.material = new THREE.RawShaderMaterial({
			glslVersion: THREE.GLSL3,
			vertexShader,
			fragmentShader,
			transparent: true,
			depthTest: false,
			depthWrite: false,
			side: THREE.DoubleSide,
			...parameters
		});
		// Everything is always drawn; a sphere of its own keeps three from computing one.
		this.geometry.boundingSphere = new THREE.Sphere();
		const object = new THREE.Mesh(this.geometry, this.material);
		object.frustumCulled = false;
		this.scene.add(object);
	}

	/** How many vertices are drawn. */
	count(vertices: number): void {
		this.geometry.setDrawRange(0, vertices);
	}

	/** Puts a list of one or two numbers an item into a texture. */
	list<T extends Float32Array | Uint32Array | Uint8Array>(
		name: string,
		numbers: 1 | 2,
		length: number,
		Kind: new (length: number) => T,
		write: (list: T) => void
	): void {
		const height = Math.max(1, Math.ceil(length / textureWidth));
		const list = new Kind(numbers * textureWidth * height);
		write(list);
		const isReal = list instanceof Float32Array;
		const texture = new THREE.DataTexture(
			list,
			textureWidth,
			height,
			numbers === 2 ? THREE.RGFormat : isReal ? THREE.RedFormat : THREE.RedIntegerFormat,
			isReal ? THREE.FloatType : list instanceof Uint32Array ? THREE.UnsignedIntType : THREE.UnsignedByteType
		);
		texture.needsUpdate = true;
		(this.uniforms[name]!.value as THREE.Texture | null)?.dispose();
		this.uniforms[name]!.value = texture;
	}

	dispose(): void {
		for (const { value } of Object.values(this.uniforms)) if (value instanceof THREE.DataTexture) value.dispose();
		this.geometry.dispose();
		this.material.dispose();
	}
}

const same = (a: Frame, b: Frame): boolean =>
	a.x === b.x && a.y === b.y && a.halfWidth === b.halfWidth && a.halfHeight === b.halfHeight;

function setColour(target: THREE.Vector3, hex: string): void {
	const value = parseInt(hex.trim().slice(1), 16);
	target.set((value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255);
}
