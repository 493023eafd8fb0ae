import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
	createMessageConnection,
	type MessageConnection,
	StreamMessageReader,
	StreamMessageWriter
} from 'vscode-languageserver/node';
import type {
	CodeAction,
	CompletionItem,
	Diagnostic,
	DocumentSymbol,
	FoldingRange,
	Hover,
	Location,
	Range,
	TextEdit,
	WorkspaceEdit
} from 'vscode-languageserver/node';

const folder = mkdtempSync(join(tmpdir(), 'language-'));
const command = resolve('bin/tessellon.js');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('the language server, to a client of its own', () => {
	let child: ChildProcess;
	let client: MessageConnection;
	const uri = pathToFileURL(join(folder, 'plate.tessellon')).href;
	let told: { version: number; diagnostics: Diagnostic[] }[] = [];
	let text = '';

	beforeEach(async () => {
		child = spawn('node', [command, 'language-server', '--stdio'], { stdio: ['pipe', 'pipe', 'inherit'] });
		client = createMessageConnection(new StreamMessageReader(child.stdout!), new StreamMessageWriter(child.stdin!));
		told = [];
		client.onNotification(
			'textDocument/publishDiagnostics',
			(p: { version: number; diagnostics: Diagnostic[] }) => void told.push(p)
		);
		client.listen();
		const { capabilities } = await client.sendRequest<{ capabilities: Record<string, unknown> }>('initialize', {
			processId: process.pid,
			rootUri: null,
			capabilities: {}
		});
		expect(Object.keys(capabilities)).toEqual(
			expect.arrayContaining(['hoverProvider', 'renameProvider', 'completionProvider', 'documentFormattingProvider'])
		);
		await client.sendNotification('initialized', {});
	});
	afterEach(async () => {
		await client.sendRequest('shutdown');
		await client.sendNotification('exit');
		await new Promise<void>((done) => (child.exitCode === null ? child.on('exit', () => done()) : done()));
		expect(child.exitCode).toBe(0);
		client.dispose();
	});

	const open = async (source: string) => {
		text = source;
		await client.sendNotification('textDocument/didOpen', { textDocument: { uri, languageId: 'tessellon', version: 1, text } });
	};
	const change = async (source: string, version: number) => {
		text = source;
		await client.sendNotification('textDocument/didChange', { textDocument: { uri, version }, contentChanges: [{ text }] });
	};
	const diagnostics = async (version: number): Promise<Diagnostic[]> => {
		for (let k = 0; k < 1000; k++) {
			const found = told.find((t) => t.version === version);
			if (found) return found.diagnostics;
			await pause(20);
		}
		throw new Error(`no findings came for version ${version}`);
	};
	/** The place just after a piece of the text. */
	const after = (what: string) => {
		const before = text.slice(0, text.indexOf(what) + what.length).split('\n');
		return { line: before.length - 1, character: before.at(-1)!.length };
	};
	const at = (what: string) => ({ textDocument: { uri }, position: { ...after(what), character: after(what).character - 1 } });
	const covered = ({ start, end }: Range) => {
		const lines = text.split('\n');
		return start.line === end.line
			? lines[start.line]!.slice(start.character, end.character)
			: lines.slice(start.line, end.line + 1).join('\n');
	};
	const applied = (edits: readonly TextEdit[]) => {
		const offset = ({ line, character }: Range['start']) =>
			text.split('\n').slice(0, line).join('\n').length + (line > 0 ? 1 : 0) + character;
		return [...edits]
			.sort((a, b) => offset(b.range.start) - offset(a.range.start))
			.reduce(
				(edited, { range, newText }) => edited.slice(0, offset(range.start)) + newText + edited.slice(offset(range.end)),
				text
			);
	};

	const plate = `recipe 1
# A plate with a hole.
let w = 4
let spare = 2

rectangle o = (0, 0) to (w, 2)
circle h = around (w/2, 1) radius 0.5
region r at (0.1, 0.1)
region q at (w/2, 1)

size 0.25
fill r quads
fill q none
group skin = o as wall
`;

	it('tells findings as one types, and mends them', async () => {
		await open(plate);
		const first = await diagnostics(1);
		expect(first.map((d) => d.code)).toEqual(['unlabelled']);
		await change(plate.replace('radius 0.5', 'radius 0.5 oops').replace('(w, 2)', '(width, 2)'), 2);
		const second = await diagnostics(2);
		expect(second.filter((d) => d.severity === 1).map((d) => covered(d.range))).toEqual(
			expect.arrayContaining(['oops', 'width'])
		);
		await change(plate.replace('recipe 1\n', ''), 3);
		const third = await diagnostics(3);
		const lacking = third.find((d) => d.code === 'no-header')!;
		const actions = await client.sendRequest<CodeAction[]>('textDocument/codeAction', {
			textDocument: { uri },
			range: lacking.range,
			context: { diagnostics: [lacking] }
		});
		const mend = actions.find((a) => a.title === 'Add it')!;
		expect(applied(mend.edit!.changes![uri]!)).toBe(plate);
		// What is typed fast is reported once, for the last of it.
		for (let version = 4; version < 30; version++) await change(`${plate}# ${version}\n`, version);
		await diagnostics(29);
		expect(told.filter((t) => t.version > 3).length).toBeLessThan(5);
	}, 60_000);

	it('completes, tells what stands under the pointer, goes to definitions and renames', async () => {
		await open(`${plate}fill \ngroup x = o.left as \n`);
		await diagnostics(1);
		const complete = async (what: string) =>
			(
				await client.sendRequest<CompletionItem[]>('textDocument/completion', { textDocument: { uri }, position: after(what) })
			).map((c) => c.label);
		expect(await complete('fill q none\ngroup skin = o as wall\nfill ')).toEqual(expect.arrayContaining(['r', 'q']));
		expect(await complete('o.left as ')).toContain('no_slip_wall');
		expect(await complete('size 0.25\n')).toEqual(expect.arrayContaining(['fill', 'study', 'layers']));
		const hover = async (what: string) => {
			const found = await client.sendRequest<Hover | null>('textDocument/hover', at(what));
			return (found?.contents as { value: string } | undefined)?.value;
		};
		expect(await hover('let w')).toBe('“w” = 4');
		expect(await hover('circle h')).toMatch(/length 3\.14159\d* mm, \d+ divisions in 1 piece/);
		expect(await hover('region r')).toMatch(/^region “r”: quads, \d+ elements, area 7\.2\d* mm²$/);
		expect(await hover('group skin')).toMatch(/^group “skin”: wall, \d+ edges$/);
		expect(await hover('fil')).toMatch(/^\*\*Fill\*\*/);
		const definition = await client.sendRequest<Location>('textDocument/definition', at('to (w'));
		expect(definition.range.start).toEqual({ line: 2, character: 4 });
		const uses = await client.sendRequest<Location[]>('textDocument/references', {
			...at('let w'),
			context: { includeDeclaration: true }
		});
		expect(uses.map((u) => u.range.start.line)).toEqual([2, 5, 6, 8]);
		const renamed = await client.sendRequest<WorkspaceEdit>('textDocument/rename', { ...at('let w'), newName: 'width' });
		expect(applied(renamed.changes![uri]!)).toContain('rectangle o = (0, 0) to (width, 2)\ncircle h = around (width/2, 1)');
		await expect(client.sendRequest('textDocument/rename', { ...at('let w'), newName: 'spare' })).rejects.toThrow(
			'there is a parameter “spare” already, on line 4'
		);
		const symbols = await client.sendRequest<DocumentSymbol[]>('textDocument/documentSymbol', { textDocument: { uri } });
		expect(symbols.slice(0, 4).map((s) => [s.name, s.detail])).toEqual([
			['w', 'parameter'],
			['spare', 'parameter'],
			['o', 'rectangle'],
			['h', 'circle']
		]);
		const folds = await client.sendRequest<FoldingRange[]>('textDocument/foldingRange', { textDocument: { uri } });
		expect(folds.map((f) => [f.startLine, f.endLine])).toEqual([
			[0, 3],
			[5, 8],
			[10, 15]
		]);
	}, 60_000);

	it('formats, and keeps comments and what cannot be read', async () => {
		const rough = 'recipe 1\n\n\n\n   let   a =  2   # two,  as  it is   \nlet b=a ,\n';
		await open(`${rough}title "Two   words"\npoint p = ( a,3 )\nnot   this`);
		const edits = await client.sendRequest<TextEdit[]>('textDocument/formatting', {
			textDocument: { uri },
			options: { tabSize: 4, insertSpaces: false }
		});
		expect(applied(edits)).toBe(
			'recipe 1\n\nlet a = 2  # two,  as  it is\nlet b=a ,\ntitle "Two   words"\npoint p = (a, 3)\nnot   this\n'
		);
	}, 60_000);
});

describe('tessellon watch and diff', () => {
	it('meshes again at every save, also after one that is wrong', async () => {
		copyFileSync('demo/venturi.tessellon', join(folder, 'v.tessellon'));
		copyFileSync('demo/throat-wall.csv', join(folder, 'throat-wall.csv'));
		const child = spawn('node', [command, 'watch', 'v.tessellon', '--out', 'v.vtu'], { cwd: folder });
		let said = '';
		for (const stream of [child.stdout, child.stderr]) stream.on('data', (data: Buffer) => (said += data.toString()));
		const until = async (what: RegExp) => {
			for (let k = 0; k < 1000 && !what.test(said); k++) await pause(20);
			expect(said).toMatch(what);
		};
		try {
			await until(/3975 nodes[\s\S]*waiting for the next save of v\.tessellon, throat-wall\.csv/);
			expect(existsSync(join(folder, 'v.vtu'))).toBe(true);
			const text = readFileSync(join(folder, 'v.tessellon'), 'utf8');
			writeFileSync(join(folder, 'v.tessellon'), text.replace(/let rows\s+= 24/, 'let rows = twenty'));
			await until(/error: .*twenty/);
			said = '';
			writeFileSync(join(folder, 'v.tessellon'), text.replace(/let rows\s+= 24/, 'let rows = 20'));
			await until(/3339 nodes[\s\S]*waiting/);
		} finally {
			child.kill('SIGTERM');
		}
		await new Promise<void>((done) => (child.exitCode === null ? child.on('exit', () => done()) : done()));
	}, 60_000);

	it('says in words what changed', () => {
		const base =
			'recipe 1\nlet w = 4\nrectangle o = (0, 0) to (w, 2)\nregion r at (1, 1)\nsize 0.5\nfill r quads\ngroup skin = o as wall\n';
		writeFileSync(join(folder, 'a.tessellon'), base);
		writeFileSync(
			join(folder, 'b.tessellon'),
			base.replace('w = 4', 'w = 6').replace('fill r quads', 'fill r triangles').replace('group skin', '# a comment\ngroup rim')
		);
		const diff = (a: string, b: string) =>
			spawnSync('node', [command, 'diff', a, b], { cwd: folder, encoding: 'utf8' }).stdout.trimEnd().split('\n');
		expect(diff('a.tessellon', 'a.tessellon')).toEqual(['nothing changed']);
		const lines = diff('a.tessellon', 'b.tessellon');
		expect(lines).toEqual(
			expect.arrayContaining([
				'parameter w was let w = 4; it is let w = 6',
				'group skin is gone: group skin = o as wall',
				'group rim is new: group rim = o as wall',
				'no longer: fill r quads',
				'new: fill r triangles',
				'quads: 32 → 0',
				'region r, area: 8 → 12',
				'group rim, length: none → 16'
			])
		);
	});
});
