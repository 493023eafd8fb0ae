import { spawn } from 'node:child_process';
import { createMessageConnection, StreamMessageReader, StreamMessageWriter } from 'vscode-languageserver/node';
import { Pipeline } from '../src/core/pipeline.ts';
import { finish } from '../src/core/numeric/work.ts';
import { evaluateRecipe } from '../src/core/recipe/model/evaluate.ts';
import { parseRecipe } from '../src/core/recipe/language/parse.ts';
import { pairs, type Ratio, summarised } from './ratio.ts';

/** A recipe of a thousand statements: plates in a row, each with its region, divisions and group. */
export function longRecipe(plates: number): string {
	const lines = ['recipe 1', 'title "A thousand statements"', 'size 2'];
	for (let k = 0; k < plates; k++)
		lines.push(
			`rectangle plate${k} = (${12 * k}, 0) to (${12 * k + 10}, ${6 + (k % 5)})`,
			`region r${k} bounded by plate${k}`,
			`divide plate${k}.left into ${6 + (k % 3)}`,
			`fill r${k} structured`,
			`group wall${k} = plate${k} as wall`
		);
	return lines.join('\n');
}

/** A pin as a part, and the statements of one written out. */
const pin = `part pin with r = 4.5, tail = 12
  point o = (0, 0)
  let lean = acos(r/tail)
  let tx = r*cos(lean)
  let ty = r*sin(lean)
  arc head = (tx, ty) to (tx, -ty) around o
  polyline flank = (tx, -ty) to (tail, 0) to (tx, ty)
  region body at o
  fill body triangles size 1.5
  divide head into 12
end`;
const writtenPin = (k: number) => `point o${k} = (${30 * (k % 20)}, ${30 * Math.floor(k / 20)})
arc head${k} = o${k} + (tx, ty) to o${k} + (tx, -ty) around o${k}
polyline flank${k} = o${k} + (tx, -ty) to o${k} + (tail, 0) to o${k} + (tx, ty)
region body${k} at o${k}
fill body${k} triangles size 1.5
divide head${k} into 12`;

/** Reading and working out 400 placements of a part, against the same statements written out; nothing is known of either. */
export function partsAgainstWritten(): Ratio {
	const count = 400;
	const numbers = Array.from({ length: count }, (_, k) => k);
	const placed = `recipe 1\n${pin}\n${numbers.map((k) => `place p${k} = pin at (${30 * (k % 20)}, ${30 * Math.floor(k / 20)})`).join('\n')}`;
	const written = `recipe 1\nlet r = 4.5\nlet tail = 12\nlet lean = acos(r/tail)\nlet tx = r*cos(lean)\nlet ty = r*sin(lean)\n${numbers.map(writtenPin).join('\n')}`;
	const work = (text: string) => () => {
		// Another text of the recipe before, so that no statement is remembered.
		parseRecipe('recipe 1');
		evaluateRecipe(parseRecipe(text), {});
	};
	return {
		what: `${count} placements of a part, read and worked out`,
		against: 'their statements written out',
		...pairs(9, work(placed), work(written)),
		wanted: '≤ 3'
	};
}

/** From a change of one number to its diagnostics in the editor, against the core's own run of the same two texts. */
export async function languageSession(): Promise<Ratio> {
	const text = longRecipe(200);
	const versions = Array.from({ length: 12 }, (_, k) => text.replace('(1200, 0) to (1210', `(1200, 0) to (${1209 - k / 20}`));
	const child = spawn('node', ['bin/tessellon.js', 'language-server', '--stdio'], { stdio: ['pipe', 'pipe', 'inherit'] });
	const client = createMessageConnection(new StreamMessageReader(child.stdout), new StreamMessageWriter(child.stdin));
	let found: (version: number) => void = () => {};
	client.onNotification('textDocument/publishDiagnostics', ({ version }: { version: number }) => found(version));
	client.listen();
	await client.sendRequest('initialize', { processId: process.pid, rootUri: null, capabilities: {} });
	await client.sendNotification('initialized', {});
	const uri = 'file:///tmp/plates.tessellon';
	const diagnosed = (version: number) =>
		new Promise<void>((done) => (found = (diagnosedVersion) => diagnosedVersion === version && done()));
	const first = diagnosed(0);
	await client.sendNotification('textDocument/didOpen', { textDocument: { uri, languageId: 'tessellon', version: 0, text } });
	await first;
	const pipeline = new Pipeline(() => 0);
	finish(pipeline.run({ text, files: {} }));
	const ratios: number[] = [];
	for (const [k, text] of versions.entries()) {
		const shown = diagnosed(k + 1);
		const since = performance.now();
		await client.sendNotification('textDocument/didChange', {
			textDocument: { uri, version: k + 1 },
			contentChanges: [{ text: text }]
		});
		await shown;
		// The rest of typing, 120 ms, is meant.
		const session = performance.now() - since - 120;
		const started = performance.now();
		finish(pipeline.run({ text: text, files: {} }));
		if (k > 1) ratios.push(session / (performance.now() - started));
	}
	child.kill();
	return {
		what: 'an edit in 1 000 statements, to its diagnostics in an editor (without the rest of typing)',
		against: 'the core’s own run of the same',
		...summarised(ratios),
		wanted: '≤ 1.5'
	};
}
