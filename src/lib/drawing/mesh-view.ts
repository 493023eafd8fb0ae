import { interpolateCividis } from 'd3';
import * as THREE from 'three';
import type { Measure } from '../../core/quality/measure.ts';
import type { Result } from '../../core/pipeline.ts';
import type { View } from './view.ts';

/** How the mesh is shown. */
export interface MeshLook {
	line: string;
	tint: readonly string[];
	lit: string;
	/** Opacity of lines and tints. */
	strength: number;
	colourByQuality: boolean;
	/** Values of the measure that are lit. */
	brush: readonly [number, number] | undefined;
}

const vertexShader = `
precision highp float;
in vec2 position;
in vec3 corner;
in float value;
in float region;
uniform vec2 centre;
uniform vec2 half_;
out vec3 vCorner;
out float vValue;
out float vRegion;
void main() {
	vCorner = corner;
	vValue = value;
	vRegion = region;
	gl_Position = vec4((position - centre) / half_, 0.0, 1.0);
}`;

/** Lines come from the corner weights; where elements are smaller than a few pixels they fade to an even grey. */
const fragmentShader = `
precision highp float;
in vec3 vCorner;
in float vValue;
in float vRegion;
uniform vec3 line;
uniform vec3 lit;
uniform vec3 tints[4];
uniform float strength;
uniform float byQuality;
uniform vec3 range;
uniform vec2 brush;
uniform sampler2D scale;
out vec4 colour;
void main() {
	vec3 width = fwidth(vCorner);
	vec3 near = 1.0 - smoothstep(width * 0.1, width * 0.85, vCorner);
	vec3 inks = mix(near, vec3(0.4), smoothstep(0.22, 0.7, width));
	float ink = max(inks.x, max(inks.y, inks.z));
	int index = int(mod(vRegion + 0.5, 4.0));
	vec3 tint = index == 0 ? tints[0] : index == 1 ? tints[1] : index == 2 ? tints[2] : tints[3];
	float cover = 0.5;
	float t = clamp((vValue - range.x) / (range.y - range.x), 0.0, 1.0);
	t = range.z > 0.5 ? t : 1.0 - t;
	if (byQuality > 0.5) { tint = texture(scale, vec2(t, 0.5)).rgb; cover = 0.92; }
	bool isLit = brush.y > brush.x && vValue >= brush.x && vValue <= brush.y;
	if (isLit) { tint = lit; cover = 0.9; }
	float a = mix(cover, 0.85, ink) * strength;
	colour = vec4(mix(tint, line, ink * (byQuality > 0.5 ? 0.55 : 0.95)) * a, a);
}`;

/** The mesh in one draw call; triangles and quadrilaterals alike. */
export class MeshView {
	private readonly renderer: THREE.WebGLRenderer;
	private readonly scene = new THREE.Scene();
	private readonly camera = new THREE.Camera();
	private readonly material: THREE.RawShaderMaterial;
	private geometry = new THREE.BufferGeometry();
	private mesh: THREE.Mesh;
	/** Coordinates on the card are relative to this, so that single precision suffices. */
	private origin = { x: 0, y: 0 };
	private result: Result | undefined;

	constructor(canvas: HTMLCanvasElement) {
		this.renderer = new THREE.WebGLRenderer({ canvas, alpha: true, antialias: false, premultipliedAlpha: true });
		this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
		const colours = new Uint8Array(256 * 4);
		for (let i = 0; i < 256; i++) {
			const [r, g, b] = interpolateCividis(i / 255)
				.match(/\d+/g)!
				.map(Number);
			colours.set([r!, g!, b!, 255], 4 * i);
		}
		const scale = new THREE.DataTexture(colours, 256, 1);
		scale.needsUpdate = true;
		this.material = new THREE.RawShaderMaterial({
			glslVersion: THREE.GLSL3,
			vertexShader,
			fragmentShader,
			transparent: true,
			depthTest: false,
			blending: THREE.CustomBlending,
			blendSrc: THREE.OneFactor,
			blendDst: THREE.OneMinusSrcAlphaFactor,
			side: THREE.DoubleSide,
			uniforms: {
				centre: { value: new THREE.Vector2() },
				half_: { value: new THREE.Vector2(1, 1) },
				line: { value: new THREE.Vector3() },
				lit: { value: new THREE.Vector3() },
				tints: { value: [0, 1, 2, 3].map(() => new THREE.Vector3()) },
				strength: { value: 1 },
				byQuality: { value: 0 },
				range: { value: new THREE.Vector3(0, 1, 1) },
				brush: { value: new THREE.Vector2(0, 0) },
				scale: { value: scale }
			}
		});
		this.mesh = new THREE.Mesh(this.geometry, this.material);
		this.mesh.frustumCulled = false;
		this.scene.add(this.mesh);
	}

	/** Takes a new mesh. */
	show(result: Result): void {
		if (this.result === result) return;
		this.result = result;
		const { mesh, arrangement } = result;
		this.origin = { x: mesh.x[0] ?? 0, y: mesh.y[0] ?? 0 };
		if (arrangement.diagonal > 0 && mesh.x.length > 0) {
			let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
			for (let i = 0; i < mesh.x.length; i++) {
				minX = Math.min(minX, mesh.x[i]!);
				maxX = Math.max(maxX, mesh.x[i]!);
				minY = Math.min(minY, mesh.y[i]!);
				maxY = Math.max(maxY, mesh.y[i]!);
			}
			this.origin = { x: (minX + maxX) / 2, y: (minY + maxY) / 2 };
		}
		const triangles = mesh.triangleRegion.length;
		const quads = mesh.quadRegion.length;
		const count = 3 * triangles + 6 * quads;
		const position = new Float32Array(2 * count);
		const corner = new Uint8Array(3 * count);
		const region = new Uint8Array(count);
		let v = 0;
		const put = (node: number, a: number, b: number, c: number, r: number) => {
			position[2 * v] = mesh.x[node]! - this.origin.x;
			position[2 * v + 1] = mesh.y[node]! - this.origin.y;
			corner[3 * v] = a;
			corner[3 * v + 1] = b;
			corner[3 * v + 2] = c;
			region[v++] = r % 4;
		};
		for (let t = 0; t < triangles; t++)
			for (let k = 0; k < 3; k++)
				put(mesh.triangles[3 * t + k]!, k === 0 ? 255 : 0, k === 1 ? 255 : 0, k === 2 ? 255 : 0, mesh.triangleRegion[t]!);
		for (let q = 0; q < quads; q++) {
			const [a, b, c, d] = [mesh.quads[4 * q]!, mesh.quads[4 * q + 1]!, mesh.quads[4 * q + 2]!, mesh.quads[4 * q + 3]!];
			const r = mesh.quadRegion[q]!;
			// Two triangles; a weight that is full at both ends of the diagonal keeps the diagonal unseen.
			put(a, 255, 255, 0, r);
			put(b, 0, 255, 0, r);
			put(c, 0, 255, 255, r);
			put(a, 255, 255, 0, r);
			put(c, 0, 255, 255, r);
			put(d, 0, 255, 0, r);
		}
		this.geometry.dispose();
		this.geometry = new THREE.BufferGeometry();
		this.geometry.setAttribute('position', new THREE.BufferAttribute(position, 2));
		this.geometry.setAttribute('corner', new THREE.BufferAttribute(corner, 3, true));
		this.geometry.setAttribute('region', new THREE.BufferAttribute(region, 1, false));
		this.geometry.setDrawRange(0, count);
		// Everything is always drawn; a sphere of its own keeps three from computing one.
		this.geometry.boundingSphere = new THREE.Sphere();
		this.mesh.geometry = this.geometry;
	}

	/** Takes the values of a measure, one per element. */
	measure(result: Result, { key, low, high, best }: Measure): void {
		this.colours(result, result.quality[key]!.values, low, high, best === 'high');
	}

	/** Takes the sizes at the nodes: an element has the mean of its own, on a scale of ratios. */
	sizes(result: Result, sizes: Float64Array): void {
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
		this.colours(result, values, low, high > low ? high : low + 1, true);
	}

	private colours(result: Result, values: Float32Array, low: number, high: number, highIsBest: boolean): void {
		const triangles = result.mesh.triangleRegion.length;
		const value = new Float32Array(3 * triangles + 6 * (values.length - triangles));
		for (let t = 0; t < triangles; t++) value.fill(values[t]!, 3 * t, 3 * t + 3);
		for (let e = triangles; e < values.length; e++) value.fill(values[e]!, 6 * e - 3 * triangles, 6 * e - 3 * triangles + 6);
		this.geometry.setAttribute('value', new THREE.BufferAttribute(value, 1));
		(this.material.uniforms.range!.value as THREE.Vector3).set(low, high, highIsBest ? 1 : 0);
	}

	draw(view: View, look: MeshLook, pixelRatio: number): void {
		const { uniforms } = this.material;
		// Setting a size, even the same one, makes a new buffer.
		const size = this.renderer.getSize(new THREE.Vector2());
		if (size.x !== view.width || size.y !== view.height || this.renderer.getPixelRatio() !== pixelRatio) {
			this.renderer.setPixelRatio(pixelRatio);
			this.renderer.setSize(view.width, view.height, false);
		}
		uniforms.centre!.value.set(view.x - this.origin.x, view.y - this.origin.y);
		uniforms.half_!.value.set(view.width / 2 / view.scale, view.height / 2 / view.scale);
		setColour(uniforms.line!.value, look.line);
		setColour(uniforms.lit!.value, look.lit);
		look.tint.forEach((tint, k) => setColour(uniforms.tints!.value[k], tint));
		uniforms.strength!.value = look.strength;
		uniforms.byQuality!.value = look.colourByQuality ? 1 : 0;
		uniforms.brush!.value.set(look.brush?.[0] ?? 0, look.brush?.[1] ?? 0);
		this.renderer.render(this.scene, this.camera);
	}

	close(): void {
		this.geometry.dispose();
		this.material.dispose();
		this.renderer.dispose();
	}
}

function setColour(target: THREE.Vector3, hex: string): void {
	const value = parseInt(hex.trim().slice(1), 16);
	target.set((value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255);
}
