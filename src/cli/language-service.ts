import { fileURLToPath } from 'node:url';
import {
	type CodeAction,
	CodeActionKind,
	CompletionItemKind,
	createConnection,
	type Diagnostic,
	DiagnosticSeverity,
	FoldingRangeKind,
	InsertTextFormat,
	type Location,
	ProposedFeatures,
	type Range,
	ResponseError,
	SymbolKind,
	TextDocuments,
	TextDocumentSyncKind,
	type TextEdit as ProtocolEdit
} from 'vscode-languageserver/node';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { curveLength } from '../core/geometry/curve.ts';
import { groupEdges, regionAreas } from '../core/mesh/mesh.ts';
import { Pipeline, type Result } from '../core/pipeline.ts';
import { type Offer, offersAt } from '../core/recipe/editor/completion.ts';
import { renameEverywhere, scopedNames, usesOf } from '../core/recipe/edits/edits.ts';
import { formatValue } from '../core/recipe/model/evaluate.ts';
import { language } from '../core/recipe/language/language.ts';
import type { NameUse } from '../core/recipe/language/names.ts';
import { rename } from '../core/recipe/edits/naming.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import type { Recipe } from '../core/recipe/language/recipe.ts';
import { readable } from '../core/recipe/language/statement-page.ts';
import { formatted } from '../core/recipe/language/format.ts';
import type { TextEdit } from '../core/text/edit.ts';
import { checkDeliveries } from '../formats/check-deliveries.ts';
import { type Finding, mendsOf } from '../core/text/finding.ts';
import { readMentionedFiles } from '../platform/read-recipe.ts';

/** Meshes of more elements than this are not made for the sake of findings. */
const mostElements = 100_000;
/** So long, in milliseconds, nothing is typed before a recipe is run. */
const rest = 120;

const severities = { error: DiagnosticSeverity.Error, warning: DiagnosticSeverity.Warning, note: DiagnosticSeverity.Information };
const symbolKinds = {
	value: SymbolKind.Variable,
	region: SymbolKind.Namespace,
	group: SymbolKind.Class,
	study: SymbolKind.Event
};
const offerKinds: Record<Offer['kind'], CompletionItemKind> = {
	statement: CompletionItemKind.Snippet,
	word: CompletionItemKind.Keyword,
	name: CompletionItemKind.Variable,
	unit: CompletionItemKind.Unit
};

/** A document with what its last run came to. */
interface Session {
	pipeline: Pipeline;
	result?: Result;
	version: number;
	timer?: ReturnType<typeof setTimeout>;
}

/** Serves until the client ends it: the same core, parser and findings as everywhere. */
export function serve(): Promise<void> {
	const connection = createConnection(ProposedFeatures.all, process.stdin, process.stdout);
	const documents = new TextDocuments(TextDocument);
	const sessions = new Map<string, Session>();

	connection.onInitialize(() => ({
		capabilities: {
			textDocumentSync: TextDocumentSyncKind.Incremental,
			completionProvider: { triggerCharacters: [' ', '.'] },
			hoverProvider: true,
			definitionProvider: true,
			referencesProvider: true,
			renameProvider: { prepareProvider: true },
			documentSymbolProvider: true,
			foldingRangeProvider: true,
			documentFormattingProvider: true,
			codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix] }
		},
		serverInfo: { name: 'tessellon' }
	}));

	const rangeOf = (document: TextDocument, from: number, to: number): Range => ({
		start: document.positionAt(from),
		end: document.positionAt(to)
	});
	const editOf = (document: TextDocument, { from, to, insert }: TextEdit): ProtocolEdit => ({
		range: rangeOf(document, from, to),
		newText: insert
	});
	/** Findings without a place in the text stand at its start. */
	const placeOf = (document: TextDocument, { span }: Finding): Range => rangeOf(document, span?.from ?? 0, span?.to ?? 0);

	documents.onDidChangeContent(({ document }) => {
		const session = sessions.get(document.uri) ?? { pipeline: new Pipeline(() => performance.now()), version: 0 };
		sessions.set(document.uri, session);
		session.version = document.version;
		clearTimeout(session.timer);
		session.timer = setTimeout(() => void examine(document.uri), rest);
	});
	documents.onDidClose(({ document }) => {
		clearTimeout(sessions.get(document.uri)?.timer);
		sessions.delete(document.uri);
		void connection.sendDiagnostics({ uri: document.uri, diagnostics: [] });
	});

	/** Runs a recipe; what was typed meanwhile overtakes it. */
	async function examine(uri: string): Promise<void> {
		const [document, session] = [documents.get(uri), sessions.get(uri)];
		if (!document || !session) return;
		const { version } = session;
		const text = document.getText();
		const files = uri.startsWith('file:') ? await readMentionedFiles(fileURLToPath(uri), text).catch(() => ({})) : {};
		const work = session.pipeline.run({ text, files, askAbove: mostElements });
		let step = work.next();
		for (let since = performance.now(); !step.done; step = work.next()) {
			if (performance.now() - since < 30) continue;
			await new Promise((resume) => setImmediate(resume));
			if (session.version !== version) return;
			since = performance.now();
		}
		session.result = step.value;
		const diagnostics = [...step.value.findings, ...checkDeliveries(step.value.model)].map((finding): Diagnostic => ({
			range: placeOf(document, finding),
			severity: severities[finding.severity],
			code: finding.code,
			source: 'tessellon',
			message: finding.message
		}));
		await connection.sendDiagnostics({ uri, version, diagnostics });
	}

	const recipeOf = (uri: string): { document: TextDocument; recipe: Recipe } | undefined => {
		const document = documents.get(uri);
		return document && { document, recipe: parseRecipe(document.getText()) };
	};

	/** The name at a place, with where it stands in the text. */
	function nameAt(recipe: Recipe, offset: number): (NameUse & { at: number; scope: string }) | undefined {
		const found = scopedNames(recipe).find(({ use, at }) => offset >= at && offset <= at + use.name.length);
		return found && { ...found.use, at: found.at, scope: found.scope };
	}

	const definitionOf = (recipe: Recipe, { space, name, scope }: NameUse & { scope: string }): number | undefined =>
		scopedNames(recipe).find((one) => one.isDefinition && one.scope === scope && one.use.space === space && one.use.name === name)
			?.at;

	connection.onCompletion(({ textDocument, position }) => {
		const document = documents.get(textDocument.uri);
		if (!document) return [];
		const offset = document.offsetAt(position);
		const { from, offers } = offersAt(document.getText(), offset);
		return offers.map(({ label, kind, detail, doc, template }) => {
			let stop = 0;
			return {
				label,
				kind: offerKinds[kind],
				...(detail ? { detail } : {}),
				...(doc ? { documentation: { kind: 'markdown' as const, value: doc } } : {}),
				insertTextFormat: template ? InsertTextFormat.Snippet : InsertTextFormat.PlainText,
				textEdit: {
					range: rangeOf(document, from, offset),
					newText: template ? template.replace(/\$\{([^}]*)\}/g, (_, what: string) => `\${${++stop}:${what}}`) : label
				}
			};
		});
	});

	connection.onHover(({ textDocument, position }) => {
		const open = recipeOf(textDocument.uri);
		if (!open) return null;
		const offset = open.document.offsetAt(position);
		const use = nameAt(open.recipe, offset);
		if (use) {
			const value = described(use, sessions.get(textDocument.uri)?.result);
			return value
				? { contents: { kind: 'markdown', value }, range: rangeOf(open.document, use.at, use.at + use.name.length) }
				: null;
		}
		// A word that starts a statement tells what the statement does.
		const line = open.recipe.lines.find(
			({ from, statement }) => statement && offset >= from && offset <= from + statement.kind.length
		);
		const record = line?.statement && language().recordOf(line.statement);
		return record
			? {
					contents: {
						kind: 'markdown',
						value: `**${record.title}**: \`${readable(record.form)}\`\n\n${record.doc}`
					}
				}
			: null;
	});

	connection.onDefinition(({ textDocument, position }): Location | null => {
		const open = recipeOf(textDocument.uri);
		const use = open && nameAt(open.recipe, open.document.offsetAt(position));
		const at = use && definitionOf(open.recipe, use);
		return at === undefined ? null : { uri: textDocument.uri, range: rangeOf(open!.document, at, at + use!.name.length) };
	});

	connection.onReferences(({ textDocument, position }): Location[] => {
		const open = recipeOf(textDocument.uri);
		const use = open && nameAt(open.recipe, open.document.offsetAt(position));
		if (!use) return [];
		return usesOf(open.recipe, use.space, use.name, use.scope).map((at) => ({
			uri: textDocument.uri,
			range: rangeOf(open.document, at, at + use.name.length)
		}));
	});

	connection.onPrepareRename(({ textDocument, position }) => {
		const open = recipeOf(textDocument.uri);
		const use = open && nameAt(open.recipe, open.document.offsetAt(position));
		return use && definitionOf(open.recipe, use) !== undefined ? rangeOf(open.document, use.at, use.at + use.name.length) : null;
	});
	connection.onRenameRequest(({ textDocument, position, newName }) => {
		const open = recipeOf(textDocument.uri);
		const use = open && nameAt(open.recipe, open.document.offsetAt(position));
		if (!use) return null;
		const done = rename(open.recipe, use.space, use.name, newName, use.scope);
		if ('error' in done) throw new ResponseError(-32_803, done.error);
		return {
			changes: {
				[textDocument.uri]: renameEverywhere(open.recipe, use.space, use.name, newName, use.scope).map((edit) =>
					editOf(open.document, edit)
				)
			}
		};
	});

	connection.onDocumentSymbol(({ textDocument }) => {
		const open = recipeOf(textDocument.uri);
		if (!open) return [];
		return open.recipe.lines.flatMap(({ statement, from, to }) => {
			const record = statement && language().recordOf(statement);
			const defined = record?.defines?.(statement!);
			if (!defined) return [];
			const at = from + defined.name.from;
			return [
				{
					name: defined.name.text,
					detail: record!.title.toLowerCase(),
					kind: symbolKinds[defined.space],
					range: rangeOf(open.document, from, to),
					selectionRange: rangeOf(open.document, at, at + defined.name.text.length)
				}
			];
		});
	});

	connection.onFoldingRanges(({ textDocument }) => {
		const document = documents.get(textDocument.uri);
		if (!document) return [];
		// Paragraphs: what stands between empty lines; and comments of several lines.
		const lines = document.getText().split('\n');
		const ranges: { startLine: number; endLine: number; kind?: FoldingRangeKind }[] = [];
		let start = -1;
		for (let k = 0; k <= lines.length; k++) {
			const isEmpty = k === lines.length || lines[k]!.trim() === '';
			if (!isEmpty && start < 0) start = k;
			if (!isEmpty || start < 0) continue;
			const block = lines.slice(start, k);
			if (block.length > 1)
				ranges.push({
					startLine: start,
					endLine: k - 1,
					...(block.every((line) => line.trim().startsWith('#')) ? { kind: FoldingRangeKind.Comment } : {})
				});
			start = -1;
		}
		return ranges;
	});

	connection.onDocumentFormatting(({ textDocument }) => {
		const open = recipeOf(textDocument.uri);
		return open ? formatted(open.recipe).map((edit) => editOf(open.document, edit)) : [];
	});

	connection.onCodeAction(({ textDocument, range }): CodeAction[] => {
		const document = documents.get(textDocument.uri);
		const result = sessions.get(textDocument.uri)?.result;
		if (!document || !result || result.recipe.text !== document.getText()) return [];
		const [from, to] = [document.offsetAt(range.start), document.offsetAt(range.end)];
		return result.findings.flatMap((finding): CodeAction[] => {
			const { span, message, code, severity } = finding;
			const place = span ?? { from: 0, to: 0 };
			if (place.from > to || place.to < from) return [];
			return mendsOf(finding).map((mend): CodeAction => ({
				title: mend.label,
				kind: CodeActionKind.QuickFix,
				diagnostics: [
					{ range: rangeOf(document, place.from, place.to), severity: severities[severity], code, source: 'tessellon', message }
				],
				edit: { changes: { [textDocument.uri]: mend.edits.map((edit) => editOf(document, edit)) } }
			}));
		});
	});

	documents.listen(connection);
	const over = new Promise<void>((end) => connection.onExit(() => end()));
	connection.listen();
	return over;
}

const short = (value: number) => String(Number(value.toPrecision(7)));

/** What a name stands for in the last run: a value, a length with its divisions, an area with its elements, edges. */
function described({ space, name }: NameUse, result: Result | undefined): string | undefined {
	if (!result) return undefined;
	const { model, mesh, arrangement, divisions } = result;
	const { units } = model;
	if (space === 'region') {
		const areas = regionAreas(mesh);
		const regions = result.regions.flatMap((region, r) => (region.statement === name ? [r] : []));
		const count = (list: Uint32Array) => list.reduce((sum, r) => sum + (regions.includes(r) ? 1 : 0), 0);
		const elements = count(mesh.triangleRegion) + count(mesh.quadRegion);
		const area = regions.reduce((sum, r) => sum + areas[r]!, 0);
		return regions.length > 0
			? `region “${name}”: ${result.regions[regions[0]!]!.fill}, ${elements.toLocaleString('en')} elements, area ${short(area)} ${units}²`
			: undefined;
	}
	if (space === 'group') {
		const group = mesh.groups.find((g) => g.name === name);
		if (!group) return undefined;
		if (group.members === 'nodes') return `points “${name}”: ${group.points.length} places`;
		return group.members === 'elements'
			? `material “${name}” of ${group.regions.length} regions`
			: `group “${name}”: ${group.kind}, ${groupEdges(mesh, group).length.toLocaleString('en')} edges`;
	}
	const parameter = model.parameters.find((p) => p.name === name);
	if (parameter) return `“${name}” = ${formatValue(parameter.value, parameter.dimension, units)}`;
	const point = model.points.find((p) => p.name === name);
	if (point) return `point “${name}” at (${short(point.x)}, ${short(point.y)})`;
	const curves = model.curvesByName.get(name);
	if (!curves) return undefined;
	const length = curves.reduce((sum, c) => sum + curveLength(model.curves[c]!), 0);
	const pieces = curves.flatMap((c) => arrangement.byCurve[c]!.map(({ piece }) => divisions.pieces[piece]!));
	const count = pieces.reduce((sum, p) => sum + p.count, 0);
	const [least, most] = [Math.min(...pieces.map((p) => p.figures.smallest)), Math.max(...pieces.map((p) => p.figures.largest))];
	return `“${name}”: length ${short(length)} ${units}${pieces.length > 0 ? `, ${count.toLocaleString('en')} divisions in ${pieces.length} piece${pieces.length === 1 ? '' : 's'}, ${short(least)} to ${short(most)} long` : ''}`;
}
