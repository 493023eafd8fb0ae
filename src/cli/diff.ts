import { language } from '../core/recipe/language/language.ts';
import type { Recipe } from '../core/recipe/language/recipe.ts';
import { report, type Report } from '../formats/report.ts';
import { runRecipe } from './run-recipe.ts';
import type { Subcommand } from './subcommand.ts';

/** `tessellon diff`: what changed between two recipes, and in their meshes, in words. */
export const diff: Subcommand = (program) =>
	void program
		.command('diff')
		.argument('<a>', 'the recipe before')
		.argument('<b>', 'the recipe after')
		.description('say in words what changed between two recipes, and in their meshes')
		.action(async (a: string, b: string) => {
			const { result: before } = await runRecipe(a, {});
			const { result: after } = await runRecipe(b, {});
			const lines = [...changedStatements(before.recipe, after.recipe), ...changedFigures(report(before), report(after))];
			process.stdout.write(`${lines.length > 0 ? lines.join('\n') : 'nothing changed'}\n`);
		});

/** Statements that came, went or read otherwise; what defines a name is told by it. */
export function changedStatements(before: Recipe, after: Recipe): string[] {
	const listed = (recipe: Recipe) => {
		const named = new Map<string, string>();
		const others = new Map<string, number>();
		for (const { statement, from, to } of recipe.lines) {
			const source = recipe.text.slice(from, to).replace(/\s+/g, ' ').trim();
			const record = statement && language().recordOf(statement);
			const definition = record?.defines?.(statement!);
			if (definition) named.set(`${record!.title.toLowerCase()} ${definition.name.text}`, source);
			else others.set(source, (others.get(source) ?? 0) + 1);
		}
		return { named, others };
	};
	const [a, b] = [listed(before), listed(after)];
	const lines: string[] = [];
	for (const [name, source] of a.named) {
		const now = b.named.get(name);
		if (now === undefined) lines.push(`${name} is gone: ${source}`);
		else if (now !== source) lines.push(`${name} was ${source}; it is ${now}`);
	}
	for (const [name, source] of b.named) if (!a.named.has(name)) lines.push(`${name} is new: ${source}`);
	for (const [source, count] of a.others) if ((b.others.get(source) ?? 0) < count) lines.push(`no longer: ${source}`);
	for (const [source, count] of b.others) if ((a.others.get(source) ?? 0) < count) lines.push(`new: ${source}`);
	return lines;
}

/** Counts, areas, lengths and quality that differ. */
export function changedFigures(before: Report, after: Report): string[] {
	const short = (value: number) => String(Number(value.toPrecision(6)));
	const lines: string[] = [];
	const compare = (what: string, a: number | undefined, b: number | undefined) => {
		if (a !== undefined && b !== undefined && short(a) === short(b)) return;
		lines.push(`${what}: ${a === undefined ? 'none' : short(a)} → ${b === undefined ? 'none' : short(b)}`);
	};
	for (const key of ['nodes', 'triangles', 'quads'] as const) compare(key, before[key], after[key]);
	const both = <T extends { name: string }>(
		what: string,
		a: readonly T[],
		b: readonly T[],
		figures: Record<string, (one: T) => number>
	) => {
		for (const name of new Set([...a, ...b].map((one) => one.name))) {
			const [x, y] = [a, b].map((list) => list.find((one) => one.name === name));
			for (const [figure, of] of Object.entries(figures)) compare(`${what} ${name}, ${figure}`, x && of(x), y && of(y));
		}
	};
	both('region', before.regions, after.regions, { elements: (r) => r.elements, area: (r) => r.area });
	both('group', before.groups, after.groups, { edges: (g) => g.edges, length: (g) => g.length });
	for (const key of Object.keys(before.quality)) {
		compare(`${key}, least`, before.quality[key]!.min, after.quality[key]?.min);
		compare(`${key}, mean`, before.quality[key]!.mean, after.quality[key]?.mean);
	}
	const messages = ({ findings }: Report) =>
		findings.filter((f) => f.severity !== 'note').map((f) => `${f.severity}: ${f.message}`);
	const [a, b] = [messages(before), messages(after)];
	for (const one of a) if (!b.includes(one)) lines.push(`resolved: ${one}`);
	for (const one of b) if (!a.includes(one)) lines.push(`now told: ${one}`);
	return lines;
}
