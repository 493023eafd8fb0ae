import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { resolve } from 'node:path';
import { UsageError } from './errors.ts';

const run = promisify(execFile);

/** An array has no more tasks than this, unless there are fewer cases. */
const mostTasks = 16;

/**
 * Submits a study to Slurm: one array job, each task a share of the cases, and a job after it that makes the table. Answers what was
 * submitted.
 */
export async function submitToSlurm(
	recipe: string,
	{
		out,
		name,
		deliver,
		jobs,
		cases,
		engineOption = []
	}: { out: string; name?: string; deliver?: boolean; jobs: number; cases: number; engineOption?: string[] }
): Promise<string> {
	const tasks = Math.max(1, Math.min(jobs > 1 ? jobs : mostTasks, cases));
	const command = [process.execPath, process.argv[1]!].map(quoted).join(' ');
	const words = [
		quoted(resolve(recipe)),
		'--out',
		quoted(resolve(out)),
		...(name ? ['--name', quoted(name)] : []),
		...(deliver ? ['--deliver'] : [])
	].join(' ');
	const log = (file: string) => `--output=${resolve(out, file)}`;
	const array = await submit([
		'--parsable',
		'--job-name=tessellon-study',
		`--array=1-${tasks}`,
		log('slurm-%a.log'),
		...engineOption,
		`--wrap=${command} study ${words} --shard $SLURM_ARRAY_TASK_ID/${tasks}`
	]);
	const collecting = await submit([
		'--parsable',
		'--job-name=tessellon-collect',
		`--dependency=afterany:${array}`,
		log('slurm-collect.log'),
		...engineOption,
		`--wrap=${command} study collect ${quoted(resolve(out))}`
	]);
	return `array ${array} of ${tasks} tasks, collected by job ${collecting}\n`;
}

async function submit(options: string[]): Promise<string> {
	try {
		const { stdout } = await run('sbatch', options);
		return stdout.trim().split(';')[0]!;
	} catch (error) {
		const { code, stderr } = error as { code?: string; stderr?: string };
		if (code === 'ENOENT')
			throw new UsageError('--engine slurm: there is no command “sbatch” here; run on a machine that submits to Slurm');
		throw new UsageError(`--engine slurm: sbatch refused the job: ${(stderr ?? '').trim().replace(/^sbatch: error: /, '')}`);
	}
}

const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;
