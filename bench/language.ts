import { spawn } from 'node:child_process';
import { createMessageConnection, StreamMessageReader, StreamMessageWriter } from 'vscode-languageserver/node';
import { Pipeline } from '../src/core/pipeline.ts';
import { finish } from '../src/core/numeric/work.ts';
import { type Ratio, summarised } from './ratio.ts';

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
