/**
 * The shaders of the mesh. Nodes, corners of elements, regions and values come from textures by the
 * number of the vertex: nothing is written out once per corner, and a new measure is one small upload.
 */

/** Width of all the textures that hold lists. */
export const textureWidth = 4096;

export const meshVertexShader = `
precision highp float;
precision highp int;
uniform highp sampler2D nodes;
uniform highp usampler2D corners;
uniform highp sampler2D values;
uniform highp usampler2D regions;
uniform int triangles;
uniform vec2 centre;
uniform vec2 half_;
out vec3 vCorner;
flat out float vValue;
flat out int vRegion;
const int width = ${textureWidth};
ivec2 at(int i) { return ivec2(i % width, i / width); }
void main() {
	int vertex = gl_VertexID;
	int element, corner;
	if (vertex < 3 * triangles) {
		element = vertex / 3;
		corner = vertex;
		int k = vertex % 3;
		vCorner = vec3(k == 0, k == 1, k == 2);
	} else {
		// Two triangles to a quadrilateral; a weight that is full at both ends of the diagonal keeps it unseen.
		int rest = vertex - 3 * triangles;
		int k = rest % 6;
		int c = k < 3 ? k : k == 3 ? 0 : k - 2;
		element = triangles + rest / 6;
		corner = 3 * triangles + 4 * (rest / 6) + c;
		vCorner = vec3(c == 0, 1.0, c == 2);
	}
	uint node = texelFetch(corners, at(corner), 0).r;
	vValue = texelFetch(values, at(element), 0).r;
	vRegion = int(texelFetch(regions, at(element), 0).r);
	gl_Position = vec4((texelFetch(nodes, at(int(node)), 0).rg - centre) / half_, 0.0, 1.0);
}`;

/** Lines come from the corner weights; where elements are smaller than a few pixels they fade to an even grey. */
export const meshFragmentShader = `
precision highp float;
in vec3 vCorner;
flat in float vValue;
flat in int vRegion;
uniform vec3 line;
uniform vec3 lit;
uniform vec3 tints[4];
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
	int index = vRegion % 4;
	vec3 tint = index == 0 ? tints[0] : index == 1 ? tints[1] : index == 2 ? tints[2] : tints[3];
	float cover = 0.5;
	float t = clamp((vValue - range.x) / (range.y - range.x), 0.0, 1.0);
	t = range.z > 0.5 ? t : 1.0 - t;
	// Quality is read by its colour; of sizes the mesh itself is to be seen too.
	float dense = byQuality > 0.8 ? 1.0 : 0.0;
	if (byQuality > 0.1) { tint = texture(scale, vec2(t, 0.5)).rgb; cover = mix(0.6, 0.92, dense); }
	bool isLit = brush.y > brush.x && vValue >= brush.x && vValue <= brush.y;
	if (isLit) { tint = lit; cover = 0.9; }
	float a = mix(cover, 0.85, ink);
	colour = vec4(mix(tint, line, ink * (byQuality > 0.1 ? mix(0.9, 0.55, dense) : 0.95)) * a, a);
}`;

/** A picture taken before, put where what it shows now lies. */
export const pictureVertexShader = `
precision highp float;
uniform vec4 place;
out vec2 vAt;
void main() {
	int c = gl_VertexID < 3 ? gl_VertexID : gl_VertexID == 3 ? 2 : gl_VertexID == 4 ? 1 : 3;
	vAt = vec2(c & 1, c >> 1);
	gl_Position = vec4(mix(place.xy, place.zw, vAt), 0.0, 1.0);
}`;

export const pictureFragmentShader = `
precision highp float;
in vec2 vAt;
uniform sampler2D picture;
out vec4 colour;
void main() { colour = texture(picture, vAt); }`;
