import { keysOf } from '../core/text/typed.ts';
import type { StudyCase } from '../core/study/cases.ts';
import type { Part } from './parts.ts';
import { type CaseRecord, figureTitles, studyTable } from './study.ts';

const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const short = (value: number) => String(Number(value.toPrecision(6)));

/** What a study says of itself, so that its table can be made without the recipe. */
export interface StudyManifest {
	title: string;
	study: string;
	cases: StudyCase[];
}

/** The files that tell a study: its table with a Data Package, the same as JSON, and a page. */
export function studyFiles(manifest: StudyManifest, records: ReadonlyMap<number, CaseRecord>): Part[] {
	const { csv, json, dataPackage } = studyTable(manifest.cases, records);
	const texts = {
		'table.csv': csv,
		'table.json': json,
		'datapackage.json': dataPackage,
		'index.html': studyPage(manifest, records)
	};
	return Object.entries(texts).map(([name, text]) => ({ name, bytes: new TextEncoder().encode(text) }));
}

/** One page with the table of a study, which stands by itself and prints well. */
function studyPage({ title, study, cases }: StudyManifest, records: ReadonlyMap<number, CaseRecord>): string {
	const parameters = [...new Set(cases.flatMap((c) => Object.keys(c.settings)))];
	const figures = keysOf(figureTitles).filter((f) => [...records.values()].some((r) => r.figures && r.figures[f] !== 0));
	const refines = cases.some((c) => c.refine !== 1);
	const head = [
		'',
		'case',
		...parameters,
		...(refines ? ['refined by'] : []),
		...figures.map((f) => figureTitles[f]),
		'what is wrong'
	];
	const rows = cases.map((study) => {
		const record = records.get(study.number);
		const cells = [
			String(study.number),
			study.name,
			...parameters.map((p) => study.settings[p] ?? ''),
			...(refines ? [String(study.refine)] : []),
			...figures.map((f) => (record?.figures ? short(record.figures[f]) : '–')),
			record ? record.message : 'not run yet'
		];
		return `<tr${record?.ok ? '' : ' class="wrong"'}>${cells.map((c) => `<td>${escaped(c)}</td>`).join('')}</tr>`;
	});
	const done = [...records.values()].filter((r) => r.ok).length;
	return `<!doctype html>
<html lang="en"><meta charset="utf-8"><title>${escaped(`${study}: ${title}`)}</title>
<style>
body { margin: 2rem; color: #22303a; font: 14px/1.4 system-ui, sans-serif; }
table { border-collapse: collapse; font-variant-numeric: tabular-nums; }
th, td { padding: 3px 9px; border-bottom: 1px solid #d8d2c2; text-align: right; white-space: nowrap; }
th { position: sticky; top: 0; background: #fbfaf4; font-weight: 600; vertical-align: bottom; white-space: normal; }
td:nth-child(2), th:nth-child(2), td:last-child, th:last-child { text-align: left; }
.wrong td { color: #a8381f; }
</style>
<h1>${escaped(study)}${title ? ` of ${escaped(title)}` : ''}</h1>
<p>${cases.length} cases: ${done} done, ${records.size - done} failed, ${cases.length - records.size} missing.</p>
<table><thead><tr>${head.map((h) => `<th>${escaped(h)}</th>`).join('')}</tr></thead><tbody>
${rows.join('\n')}
</tbody></table>
</html>
`;
}
