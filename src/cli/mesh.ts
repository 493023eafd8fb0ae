import { elementCount } from '../core/mesh/mesh.ts';
import { deliver, type DeliveryFormat, deliveryFormats, formatByEnding, readOptions } from '../formats/delivery.ts';
import { RecipeError, UsageError } from './errors.ts';
import { conclude, readAssignment, type RunOptions, runRecipe, runsRecipe } from './run-recipe.ts';
import { collect, type Subcommand } from './subcommand.ts';
import { writeWhole } from './write-whole.ts';

interface MeshOptions extends RunOptions {
	out?: string[];
	option?: string[];
	partial?: boolean;
}

const endings = deliveryFormats.map((f) => '.' + f.ending).join(', ');

/** `tessellon mesh`: meshes a recipe and writes files. */
export const mesh: Subcommand = (program) =>
	void runsRecipe(program.command('mesh').description('mesh a recipe and write what --out names'))
		.option('--out <file>', `file to write, its format by its ending (${endings}); may be repeated`, collect)
		.option('--option <name=value>', 'option of the formats that hold a mesh, like units=m; may be repeated', collect)
		.option('--partial', 'write the mesh also where a region could not be filled, without that region')
		.action(run);

async function run(path: string, options: MeshOptions): Promise<void> {
	const own = Object.fromEntries(
		(options.option ?? []).map((item) => readAssignment(item, '--option', 'units=m')).map(({ name, value }) => [name, value])
	);
	if (options.partial) own.partial = 'yes';
	const targets = (options.out ?? []).map((file) => ({ file, ...formatOf(file, own) }));
	const result = runRecipe(path, options);
	const unwritten: string[] = [];
	for (const { file, format, options: chosen } of targets)
		if (elementCount(result.mesh) > 0 || (format.holds === 'drawing' && result.model.curves.length > 0)) {
			if (format.holds === 'mesh' && result.unfilled.length > 0 && own.partial !== 'yes') unwritten.push(file);
			else writeWhole(file, await deliver(result, format, chosen));
		}
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

/** The format of a file by its ending, and the options that it takes. */
function formatOf(file: string, options: Record<string, string>): { format: DeliveryFormat; options: Record<string, string> } {
	const ending = /\.([^./\\]+)$/.exec(file)?.[1] ?? '';
	const format = formatByEnding(ending);
	if (!format) throw new UsageError(`${file}: no format has the ending \`.${ending}\`; there are ${endings}`);
	const own = format.holds === 'mesh' ? options : {};
	try {
		readOptions(format, own);
	} catch (error) {
		throw new UsageError((error as Error).message);
	}
	return { format, options: own };
}
