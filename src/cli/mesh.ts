import { mkdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { elementCount } from '../core/mesh/mesh.ts';
import {
	askedDeliveries,
	deliverAll,
	deliverParts,
	type DeliveryFormat,
	deliveryFormats,
	formatOfFile,
	needsTemplate,
	readOptions
} from '../formats/delivery.ts';
import { zipped } from '../formats/parts.ts';
import type { Result } from '../core/pipeline.ts';
import { RecipeError, UsageError } from './errors.ts';
import { conclude, readAssignment, type RunOptions, runRecipe, runsRecipe } from './run-recipe.ts';
import { collect, type Subcommand } from './subcommand.ts';
import { writeWhole } from '../disk/write-whole.ts';
import { sentenceOf } from '../core/text/user-error.ts';

export interface MeshOptions extends RunOptions {
	out?: string[];
	option?: string[];
	partial?: boolean;
	deliver?: boolean;
	to?: string;
}

const endings = deliveryFormats
	.filter((f) => !needsTemplate(f))
	.map((f) => '.' + f.ending)
	.join(', ');

/** `tessellon mesh`: meshes a recipe and writes files. */
export const mesh: Subcommand = (program) =>
	void runsRecipe(program.command('mesh').description('mesh a recipe and write what --out names'))
		.option('--out <file>', `file to write, its format by its ending (${endings}); may be repeated`, collect)
		.option('--option <name=value>', 'option of the formats that hold a mesh, like units=m; may be repeated', collect)
		.option('--deliver', 'write all that the recipe asks for with `deliver`')
		.option('--to <folder>', 'where --deliver writes; the present folder without')
		.option('--partial', 'write the mesh also where a region could not be filled, without that region')
		.action(run);

/** Meshes a recipe, writes what is asked for and prints the figures; throws where there are errors. */
export async function run(path: string, options: MeshOptions): Promise<void> {
	const own = Object.fromEntries(
		(options.option ?? []).map((item) => readAssignment(item, '--option', 'units=m')).map(({ name, value }) => [name, value])
	);
	if (options.partial) own.partial = 'yes';
	const targets = (options.out ?? []).map((file) => ({ file, ...formatOf(file, own) }));
	const result = await runRecipe(path, options);
	const unwritten: string[] = [];
	for (const { file, format, options: chosen } of targets)
		if (elementCount(result.mesh) > 0 || (format.holds === 'drawing' && result.model.curves.length > 0)) {
			if (format.holds === 'mesh' && result.unfilled.length > 0 && own.partial !== 'yes') unwritten.push(file);
			else await write(result, file, format, chosen);
		}
	if (options.deliver) await writeAll(path, result, options.to ?? '.');
	if (unwritten.length > 0)
		process.stderr.write(
			`${path}: ${unwritten.join(', ')} not written, as the mesh lacks ${result.unfilled.map((name) => `\`${name}\``).join(', ')}; --partial writes what there is\n`
		);
	conclude(path, result, options);
	if (elementCount(result.mesh) === 0)
		throw new RecipeError(
			`${path}: no mesh came out; ${result.regions.length === 0 ? 'the recipe defines no region' : 'no region could be filled'}`
		);
}

/** Writes one delivery: several files stand beside one another under the name, tables in one archive. */
async function write(result: Result, file: string, format: DeliveryFormat, options: Record<string, string>): Promise<void> {
	const stem = basename(file).replace(/\.[^.]*$/, '');
	const parts = await deliverParts(result, format, options, { stem });
	const isArchive = format.ending === 'zip';
	if (isArchive) writeWhole(file, zipped(parts));
	else for (const [k, { name, bytes }] of parts.entries()) writeWhole(k === 0 ? file : join(dirname(file), name), bytes);
}

/** Writes all that a recipe asks for into a folder. */
async function writeAll(path: string, result: Result, folder: string): Promise<void> {
	const wrong = askedDeliveries(result.model).find(({ problem }) => problem !== undefined);
	if (wrong) throw new RecipeError(`${path}: ${wrong.problem}`);
	let parts;
	try {
		parts = await deliverAll(result, basename(path).replace(/\.[^.]*$/, ''));
	} catch (error) {
		throw new RecipeError(`${path}: ${sentenceOf(error, 'the delivery')}`);
	}
	if (parts.length === 0) throw new RecipeError(`${path}: the recipe asks for no delivery; write one, like \`deliver cgns\``);
	for (const { name, bytes } of parts) {
		const file = join(folder, name);
		mkdirSync(dirname(file), { recursive: true });
		writeWhole(file, bytes);
		process.stderr.write(`${file}\n`);
	}
}

/** The format of a file by its ending, and the options that it takes. */
function formatOf(file: string, options: Record<string, string>): { format: DeliveryFormat; options: Record<string, string> } {
	const format = formatOfFile(file);
	if (!format || needsTemplate(format))
		throw new UsageError(`${file}: no format has the ending \`${/\.[^./\\]*$/.exec(file)?.[0] ?? ''}\`; there are ${endings}`);
	// A figure takes the options that it knows; a mesh refuses what it does not.
	const known = format.holds === 'page' ? Object.keys(format.options.entries) : [];
	const own =
		format.holds === 'mesh' ? options : Object.fromEntries(Object.entries(options).filter(([name]) => known.includes(name)));
	try {
		readOptions(format, own);
	} catch (error) {
		throw new UsageError(sentenceOf(error));
	}
	return { format, options: own };
}
