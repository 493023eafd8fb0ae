import { short } from '../core/text/sentences.ts';
import { qualityOf } from '../core/quality/quality.ts';
import { compared, figuresOf } from '../formats/mesh-figures.ts';
import type { Result } from '../core/pipeline.ts';
import { placesIn } from '../core/recipe/language/parse.ts';
import { checkFile } from '../formats/check-file.ts';
import { type MeshFile, MeshFileError } from '../formats/mesh-file.ts';
import { promiseRows, type Report } from '../formats/report.ts';
import { readMeshFile } from '../formats/read-file.ts';
import { meshFileLimit, readWhole } from '../platform/read-recipe.ts';
import { RecipeError } from './errors.ts';
import { runRecipe } from './run-recipe.ts';
import type { Subcommand } from './subcommand.ts';

interface LookOptions {
	recipe?: string;
	json?: boolean;
}

/** `tessellon look`: tells what a mesh file holds, and whether it is the mesh of a recipe. */
export const look: Subcommand = (program) =>
	void program
		.command('look')
		.argument('<mesh>', 'a plane mesh in CGNS or VTK XML, of ours or of others')
		.description('tell the counts, groups and quality of a mesh file, and compare them with a recipe')
		.option('--recipe <recipe>', 'compare with the mesh of this recipe; other counts end with status 1')
		.option('--json', 'print the figures as one JSON object')
		.action(run);

async function run(path: string, { recipe, json }: LookOptions): Promise<void> {
	const bytes = readWhole(path, meshFileLimit, 'look at a part of it');
	const file = await readMeshFile(bytes).catch((error: unknown) => {
		throw error instanceof MeshFileError ? new RecipeError(`${path}: ${error.message}`) : error;
	});
	const figures = figuresOf(file);
	const quality = Object.fromEntries(
		Object.entries(qualityOf(file).all()).map(([key, { min, mean, max }]) => [key, { min, mean, max }])
	);
	const made = recipe === undefined ? undefined : (await runRecipe(recipe, {})).result;
	const against = made && compared(figures, figuresOf(made));
	const promises = made && promisesInFile(file, made);
	const differs = against?.filter(({ file, recipe }) => file !== recipe) ?? [];
	if (json)
		process.stdout.write(
			`${JSON.stringify({ ...figures, quality, notes: file.notes, ...(against ? { compared: against, promises } : {}) })}\n`
		);
	else {
		const lines = [
			`${figures.nodes} nodes, ${figures.triangles} triangles, ${figures.quads} quadrilaterals`,
			...figures.regions.map((r) => `region ${r.name}: ${r.elements} elements`),
			...figures.groups.map((g) => `group ${g.name}: ${g.kind ?? 'no kind'}, ${g.edges} edges`),
			...Object.entries(quality).map(
				([key, { min, mean, max }]) => `${key}: ${[min, mean, max].map((v) => Number(v.toPrecision(4))).join(' … ')}`
			),
			...file.notes,
			...(promises ? promiseLines(promises) : [])
		];
		process.stdout.write(`${lines.join('\n')}\n`);
	}
	if (differs.length > 0)
		throw new RecipeError(
			`${path} is not the mesh of ${recipe}: ${differs.map((d) => `${d.what}: ${d.file ?? 'none'} in the file, ${d.recipe ?? 'none'} of the recipe`).join('; ')}`
		);
}

/** What the recipe asks, held against what the file has. */
function promisesInFile(file: MeshFile, made: Result): Report['promises'] {
	const place = placesIn(made.recipe.text);
	return promiseRows(checkFile(file, made), (line) => place(made.recipe.lines[line]!.from).line);
}

function promiseLines(promises: Report['promises']): string[] {
	const missed = promises.filter(({ kept }) => !kept);
	return [
		missed.length === 0
			? `as asked: all ${promises.length} numbers of the recipe that a mesh can be measured for`
			: `${missed.length} of ${promises.length} numbers of the recipe are not in the file:`,
		...missed.map(({ statement, what, asked, got }) => `line ${statement}: ${what}: ${short(asked)} asked, ${short(got)} came`)
	];
}
