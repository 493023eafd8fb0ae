import { basename, dirname, join } from 'node:path';
import { elementCount } from '../core/mesh/mesh.ts';
import {
	deliverAll,
	deliverParts,
	type DeliveryFormat,
	deliveryFormats,
	formatOfFile,
	needsTemplate,
	noRequest,
	problemsOf,
	readOptions
} from '../formats/delivery.ts';
import { checkPartNames, zipped } from '../formats/parts.ts';
import type { Result } from '../core/pipeline.ts';
import { RecipeError, UsageError } from './errors.ts';
import { conclude, readAssignment, type RunOptions, runRecipe, runsRecipe } from './run-recipe.ts';
import { collect, type Subcommand } from './subcommand.ts';
import { refuseInputs, writeParts, writeWhole } from '../platform/write-whole.ts';
import { sentenceOf } from '../core/text/user-error.ts';
import { FileError } from '../platform/system-error.ts';

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
		.option('--deliver', 'write all that the recipe asks for with “deliver”')
		.option('--to <folder>', 'where --deliver writes; the present folder without')
		.option('--partial', 'write the mesh also where a region could not be filled, without that region')
		.action(run);

/** Meshes a recipe, writes what is requested and prints the figures; throws where there are errors. */
export async function run(path: string, options: MeshOptions): Promise<void> {
	const formatOptions = Object.fromEntries(
		(options.option ?? []).map((item) => readAssignment(item, '--option', 'units=m')).map(({ name, value }) => [name, value])
	);
	if (options.partial) formatOptions.partial = 'yes';
	const targets = (options.out ?? []).map((file) => ({ file, ...formatOf(file, formatOptions) }));
	const { result, inputs } = await runRecipe(path, options);
	refuseInputs(
		targets.map(({ file }) => file),
		inputs
	);
	/** What could not be delivered, and whether that is the disk's fault. */
	let [unwritten, isOfDisk] = [0, false];
	const report = (sentence: string, error?: unknown) => {
		unwritten++;
		isOfDisk ||= error instanceof FileError;
		process.stderr.write(`${path}: ${sentence}\n`);
	};
	for (const target of targets) {
		try {
			await write(result, target, inputs);
		} catch (error) {
			report(`${target.file} was not written: ${sentenceOf(error, 'the delivery')}`, error);
		}
	}
	if (options.deliver) await writeAll(path, result, options.to ?? '.', inputs, report);
	conclude(path, result, options);
	if (elementCount(result.mesh) === 0)
		throw new RecipeError(
			`${path}: no mesh came out; ${result.regions.length === 0 ? 'the recipe defines no region' : 'no region could be filled'}`
		);
	if (isOfDisk) throw new UsageError('');
	if (unwritten > 0) throw new RecipeError('');
}

interface Target {
	file: string;
	format: DeliveryFormat;
	options: Record<string, string>;
}

/** Writes one delivery: several files stand beside one another under the name, tables in one archive. */
async function write(result: Result, { file, format, options }: Target, inputs: readonly string[]): Promise<void> {
	const stem = basename(file).replace(/\.[^.]*$/, '');
	const parts = await deliverParts(result, format, options, { stem });
	if (format.ending === 'zip') return writeWhole(file, zipped(parts));
	const paths = parts.map(({ name }, k) => (k === 0 ? file : join(dirname(file), name)));
	checkPartNames(parts.slice(1));
	refuseInputs(paths, inputs);
	for (const [k, { bytes }] of parts.entries()) writeWhole(paths[k]!, bytes);
}

/** Writes all that a recipe asks for into a folder; what could not be made is reported, and takes nothing else along. */
async function writeAll(
	path: string,
	result: Result,
	folder: string,
	inputs: readonly string[],
	report: (sentence: string, error?: unknown) => void
): Promise<void> {
	const outcomes = await deliverAll(result, basename(path).replace(/\.[^.]*$/, ''));
	if (outcomes.length === 0) throw new RecipeError(`${path}: ${noRequest}`);
	for (const { source, parts, problem } of outcomes) {
		if (problem !== undefined) continue;
		try {
			refuseInputs(
				parts.map(({ name }) => join(folder, name)),
				inputs
			);
			for (const file of writeParts(folder, parts)) process.stderr.write(`${file}\n`);
		} catch (error) {
			report(`“${source}” was not delivered: ${sentenceOf(error, 'writing it')}`, error);
		}
	}
	for (const sentence of problemsOf(outcomes)) report(sentence);
}

/** The format of a file by its ending, and the options that it takes. */
function formatOf(file: string, options: Record<string, string>): Omit<Target, 'file'> {
	const format = formatOfFile(file);
	if (!format || needsTemplate(format))
		throw new UsageError(`${file}: no format has the ending “${/\.[^./\\]*$/.exec(file)?.[0] ?? ''}”; there are ${endings}`);
	// A figure takes the options that it knows; a mesh refuses what it does not.
	const optionNames = format.holds === 'page' ? Object.keys(format.options.entries) : [];
	const accepted =
		format.holds === 'mesh'
			? options
			: Object.fromEntries(Object.entries(options).filter(([name]) => optionNames.includes(name)));
	try {
		readOptions(format, accepted);
	} catch (error) {
		throw new UsageError(sentenceOf(error));
	}
	return { format, options: accepted };
}
