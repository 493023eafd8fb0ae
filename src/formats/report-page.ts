import { histogram, measures } from '../core/quality/quality.ts';
import { boundaryKinds, groupColours } from '../core/recipe/language/boundary-kinds.ts';
import type { Result } from '../core/pipeline.ts';
import { figureOf, figureSvg } from './figure.ts';
import { deliveredText, report } from './report.ts';

const escaped = (text: string) =>
	text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
const count = (n: number) => n.toLocaleString('en');
const brief = (value: number) => (Number.isFinite(value) ? String(Number(value.toPrecision(5))) : '–');

/** A figure of more elements than this shows the outline alone. */
const mostDrawn = 60_000;

/**
 * A report of a mesh as one HTML page with nothing beside it, fit for print: the domain, parameters, counts, groups, quality with histograms, layers,
 * findings, a picture, the recipe itself, and a fingerprint of the mesh.
 */
export async function writeReportPage(result: Result): Promise<string> {
	const { model, mesh, recipe, quality } = result;
	const figures = report(result);
	const { delivered } = figures;
	const elements = figures.elements;
	const picture = figureSvg(
		figureOf(result, { width: '170', mesh: elements <= mostDrawn ? 'yes' : 'no', legend: 'yes', scale: 'yes' })
	);
	const title = model.title === '' ? 'Mesh' : model.title;
	const table = (head: readonly string[], rows: readonly (readonly string[])[]) =>
		rows.length === 0
			? ''
			: `<table><thead><tr>${head.map((h) => `<th>${h}</th>`).join('')}</tr></thead><tbody>${rows.map((row) => `<tr>${row.map((cell) => `<td>${cell}</td>`).join('')}</tr>`).join('')}</tbody></table>`;
	const section = (name: string, content: string) => (content === '' ? '' : `<section><h2>${name}</h2>${content}</section>`);
	const frame = model.frame.kind === 'planar' ? 'planar' : `axisymmetric about ${model.frame.axis}`;
	return [
		'<!doctype html>',
		`<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><style>${style}</style></head><body>`,
		`<h1>${escaped(title)}</h1>`,
		`<p>${count(figures.nodes)} nodes, ${count(elements)} elements (${count(figures.triangles)} triangles, ${count(figures.quads)} quadrilaterals), in ${model.units}, ${frame}.</p>`,
		delivered ? `<p>Delivered as ${deliveredText(delivered)}.</p>` : '',
		`<figure>${picture}</figure>`,
		section(
			'Parameters',
			table(
				['name', 'value', 'range'],
				model.parameters.map(({ name, value, range }) => [
					escaped(name),
					brief(value),
					range ? `${brief(range.low)} to ${brief(range.high)}` : ''
				])
			)
		),
		section(
			'Regions',
			table(
				['region', 'fill', 'elements', 'area'],
				figures.regions.map((r) => [escaped(r.name), r.fill, count(r.elements), brief(r.area)])
			)
		),
		section(
			'Groups',
			table(
				['', 'group', 'kind', 'edges', 'nodes', 'owned', 'length'],
				figures.groups.map((g, k) => {
					const group = mesh.groups[k]!;
					const kind = g.kind === 'region' ? 'material' : boundaryKinds[g.kind as keyof typeof boundaryKinds].title;
					const swatch = g.kind === 'region' ? '' : `<i style="background:${groupColours[group.colour]}"></i>`;
					return [swatch, escaped(g.name), kind, count(g.edges), count(g.nodes), count(g.owned), brief(g.length)];
				})
			)
		),
		section(
			'Layers on walls',
			table(
				['walls', 'cells', 'first', 'thickness', 'full', 'smallest angle'],
				figures.layers.map((l) => [
					escaped(l.walls.join(', ')),
					count(l.cells),
					l.first.min === l.first.max ? brief(l.first.min) : `${brief(l.first.min)} to ${brief(l.first.max)}`,
					`${brief(l.thickness.min)} to ${brief(l.thickness.max)}`,
					`${Math.round(100 * l.complete)} %`,
					`${brief(l.angle.min)}°`
				])
			)
		),
		section(
			'As asked',
			figures.promises.length === 0
				? ''
				: `<p>${count(figures.promises.length)} numbers that the recipe asks for were measured on the mesh; ${count(figures.promises.filter((p) => !p.kept).length)} of them are not in it.</p>${table(
						['line', 'what', 'asked', 'came', 'where'],
						figures.promises
							.filter((p) => !p.kept)
							.map((p) => [
								String(p.statement),
								escaped(p.what),
								brief(p.asked),
								brief(p.got),
								p.at ? `(${brief(p.at.x)}, ${brief(p.at.y)})` : ''
							])
					)}`
		),
		section(
			'Quality',
			measures
				.map((measure) => {
					const { values, min, mean, max } = quality.of(measure.key);
					if (values.length === 0) return '';
					return `<div class="measure"><h3>${measure.title}</h3>${bars(histogram(values, measure, 40))}<p>${brief(min)}${measure.unit} to ${brief(max)}${measure.unit}, mean ${brief(mean)}${measure.unit}</p></div>`;
				})
				.join('')
		),
		section(
			'Findings',
			figures.findings.length === 0
				? '<p>None.</p>'
				: table(
						['', 'what', 'where'],
						figures.findings.map((f) => [
							f.severity,
							escaped(f.message),
							f.at ? `(${brief(f.at.x)}, ${brief(f.at.y)})` : f.statement ? `line ${f.statement.line}` : ''
						])
					)
		),
		section('Recipe', `<pre>${escaped(recipe.text)}</pre>`),
		`<p class="print">SHA-256 of nodes and elements: <code>${await fingerprint(result)}</code></p>`,
		'</body></html>',
		''
	].join('\n');
}

/** A histogram as bars; the root keeps the few bad ones visible beside the many good ones. */
function bars(counts: Uint32Array): string {
	const most = Math.max(1, ...counts);
	const width = 200 / counts.length;
	const rects = [...counts].map((n, k) => {
		const height = n === 0 ? 0 : Math.max(1, 40 * Math.sqrt(n / most));
		return `<rect x="${brief(k * width)}" y="${brief(40 - height)}" width="${brief(width * 0.85)}" height="${brief(height)}"/>`;
	});
	return `<svg class="bars" viewBox="0 0 200 41" role="img">${rects.join('')}</svg>`;
}

/** A fingerprint of the mesh, the same wherever it was made. */
async function fingerprint({ mesh }: Result): Promise<string> {
	const arrays = [mesh.x, mesh.y, mesh.triangles, mesh.quads];
	const all = new Uint8Array(arrays.reduce((sum, a) => sum + a.byteLength, 0));
	let at = 0;
	for (const array of arrays) {
		all.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
		at += array.byteLength;
	}
	const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', all));
	return [...hash].map((b) => b.toString(16).padStart(2, '0')).join('');
}

const style = `
body { max-width: 190mm; margin: 12mm auto; padding: 0 4mm; color: #22303c; font: 11pt/1.45 "IBM Plex Sans", system-ui, sans-serif; }
h1 { font-size: 20pt; margin: 0; } h2 { margin: 8mm 0 2mm; border-bottom: 0.3mm solid #22303c; font-size: 13pt; } h3 { margin: 2mm 0 0; font-size: 10pt; font-weight: 600; }
figure { margin: 6mm 0; } figure svg { width: 100%; height: auto; }
table { width: 100%; border-collapse: collapse; font-size: 9.5pt; } th { text-align: left; font-weight: 600; } td, th { padding: 0.8mm 2mm 0.8mm 0; border-bottom: 0.1mm solid #c8ccd0; vertical-align: top; }
td i { display: inline-block; width: 4mm; height: 3mm; border-radius: 0.5mm; }
.measure { display: inline-block; width: 58mm; margin-right: 4mm; vertical-align: top; } .measure p { margin: 0; font-size: 8.5pt; } .bars { width: 100%; fill: #0f7a70; }
pre { padding: 3mm; border: 0.1mm solid #c8ccd0; font: 8.5pt/1.4 "IBM Plex Mono", monospace; white-space: pre-wrap; } .print { font-size: 8pt; overflow-wrap: anywhere; }
@media print { body { margin: 0; } section { break-inside: avoid-page; } section:last-of-type { break-inside: auto; } }
`;
