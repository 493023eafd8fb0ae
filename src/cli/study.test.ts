import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
	copyFileSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	statSync,
	writeFileSync
} from 'node:fs';
import { hostname, tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'study-'));
const command = resolve('bin/tessellon.js');
const run = (args: string[], env: NodeJS.ProcessEnv = {}) => {
	const { status, stdout, stderr } = spawnSync('node', [command, 'study', ...args], {
		encoding: 'utf8',
		cwd: folder,
		env: { ...process.env, ...env }
	});
	return { status, stdout, stderr };
};
const read = (path: string) => readFileSync(join(folder, path), 'utf8');
const recipe = (studies: string) => {
	writeFileSync(join(folder, 'tube.tessellon'), readFileSync('demo/venturi.tessellon', 'utf8') + studies);
	return 'tube.tessellon';
};

beforeAll(() => {
	copyFileSync('demo/throat-wall.csv', join(folder, 'throat-wall.csv'));
	writeFileSync(
		join(folder, 'plate.tessellon'),
		`recipe 1
let w = 4
let n = 3
rectangle o = (0, 0) to (w, 2)
region r at (0.1, 0.1)
divide o.left into n
size 0.5
fill r triangles
group all = o as wall
deliver tables
study wide = w in -1, 2, 4, n in 2, 3
study both = w in 2, 4, n in 3, 5 paired
study rows = from "cases.csv"
`
	);
	writeFileSync(join(folder, 'cases.csv'), 'case;w;n\nnarrow;2;2\nwide one;6 m;4\n');
});
// What was killed may have left others, which still close their files.
afterAll(() => rmSync(folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 200 }));

describe('tessellon study', () => {
	it('runs every combination; a case that fails fails alone and says why', () => {
		const { status, stdout } = run(['plate.tessellon', '--name', 'wide', '--out', 'wide', '--deliver']);
		expect([status, stdout]).toEqual([1, '4 done, 2 failed\n']);
		const rows = JSON.parse(read('wide/table.json')) as Record<string, string>[];
		expect(rows.map((r) => [r.case, r.status])).toEqual([
			['w_-1_n_2', 'failed'],
			['w_-1_n_3', 'failed'],
			['w_2_n_2', 'done'],
			['w_2_n_3', 'done'],
			['w_4_n_2', 'done'],
			['w_4_n_3', 'done']
		]);
		expect(rows[0]!.message).not.toBe('');
		expect(rows.slice(2).map((r) => Number(r.area))).toEqual([4, 4, 8, 8].map((a) => expect.closeTo(a, 9) as number));
		expect(readdirSync(join(folder, 'wide/cases/0006-w_4_n_3')).sort()).toEqual(['case.json', 'plate-tables']);
		const { schema } = JSON.parse(read('wide/datapackage.json')).resources[0] as { schema: { fields: { name: string }[] } };
		expect(read('wide/table.csv').split('\n')[0]).toBe(schema.fields.map((f) => f.name).join(','));
		expect(read('wide/index.html')).toContain('6 cases: 4 done, 2 failed, 0 missing');
	});

	it('pairs values, and reads cases of a table by their names', () => {
		expect(run(['plate.tessellon', '--name', 'both', '--out', 'both']).stdout).toBe('2 done\n');
		expect(readdirSync(join(folder, 'both/cases')).sort()).toEqual(['0001-w_2_n_3', '0002-w_4_n_5']);
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'rows']).stdout).toBe('2 done\n');
		const rows = JSON.parse(read('rows/table.json')) as Record<string, string>[];
		expect(rows.map((r) => [r.case, r.w])).toEqual([
			['narrow', '2'],
			['wide one', '6 m']
		]);
	});

	it('says what is wrong with a study, its table or the call', () => {
		expect(run(['plate.tessellon', '--out', 'x']).stderr).toContain('has the studies wide, both, rows; say which with --name');
		expect(run(['plate.tessellon', '--name', 'wid', '--out', 'x']).stderr).toContain('no study “wid”; did you mean “wide”?');
		expect(run(['plate.tessellon', '--name', 'wide', '--out', 'x', '--shard', '5/4']).stderr).toContain(
			'expected K/N with K from 1 to N'
		);
		writeFileSync(join(folder, 'cases.csv'), 'w,m\n1,2\n');
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'x']).stderr).toContain(
			'has a column “m”, and no parameter has that name'
		);
		writeFileSync(join(folder, 'cases.csv'), 'case;w;n\nnarrow;2;2\nwide one;6 m;4\n');
		expect(run(['collect', 'nowhere']).stderr).toContain('nowhere holds no study');
	});

	it('removes and overwrites nothing that it did not write', () => {
		const touch = (path: string) => {
			mkdirSync(join(folder, path, '..'), { recursive: true });
			writeFileSync(join(folder, path), 'mine');
		};
		writeFileSync(
			join(folder, 'cases.csv'),
			`case;w;n\none;2;2\n..;3;2\n.;4;2\nx.part;5;2\n${'流'.repeat(120)};6;2\na/../../b;7;2\n`
		);
		// A folder that holds anything else is no place for a study.
		touch('results/notes.txt');
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'results'])).toMatchObject({
			status: 2,
			stderr: expect.stringContaining('results holds other files (notes.txt) and no study')
		});
		expect(readdirSync(join(folder, 'results'))).toEqual(['notes.txt']);
		expect(run(['plate.tessellon', '--name', 'rows', '--out', '.']).stderr).toContain('holds other files');
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'plate.tessellon']).stderr).toContain('is no');
		// Names that lead out of the folder, or that no disk takes, stand in the table and nowhere else.
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'names', '--deliver']).stdout).toBe('6 done\n');
		expect(readdirSync(join(folder, 'names/cases')).sort()).toEqual([
			'0001-one',
			'0002',
			'0003',
			'0004-x.part',
			'0005',
			'0006-a_.._.._b'
		]);
		expect((JSON.parse(read('names/table.json')) as Record<string, string>[]).map((row) => row.case)).toEqual([
			...['one', '..', '.', 'x.part', '流'.repeat(120), 'a/../../b']
		]);
		// What a user puts beside a case stays when the case is run again.
		touch('names/cases/0001-one/solver/result.dat');
		touch('names/cases/0001-one/plate-tables/mine.csv');
		const text = read('plate.tessellon');
		writeFileSync(join(folder, 'plate.tessellon'), text.replace('deliver tables', 'deliver vtu'));
		expect(run(['plate.tessellon', '--name', 'rows', '--out', 'names', '--deliver']).stdout).toBe('6 done\n');
		expect(readdirSync(join(folder, 'names/cases/0001-one')).sort()).toEqual([
			'case.json',
			'plate-tables',
			'plate.vtu',
			'solver'
		]);
		expect(readdirSync(join(folder, 'names/cases/0001-one/plate-tables'))).toEqual(['mine.csv']);
		// A file in the way that is the user's is not overwritten: the case says so, the others are done.
		writeFileSync(join(folder, 'plate.tessellon'), text.replace('deliver tables', 'deliver cgns'));
		touch('names/cases/0002/plate.cgns');
		const refused = run(['plate.tessellon', '--name', 'rows', '--out', 'names', '--deliver']);
		expect(refused.stderr).toMatch(/case 2 \(\.\.\): .*plate\.cgns was not written by this study, and stays/);
		expect(read('names/cases/0002/plate.cgns')).toBe('mine');
		expect(refused.stdout).toBe('6 done\n');
		writeFileSync(join(folder, 'plate.tessellon'), text);
		// Another study does not take its place.
		expect(run(['plate.tessellon', '--name', 'both', '--out', 'names']).stderr).toContain('names holds the study rows');
		writeFileSync(join(folder, 'cases.csv'), 'case;w;n\nnarrow;2;2\nwide one;6 m;4\n');
	});

	it('knows cases by their number and values, whatever their names are', () => {
		writeFileSync(
			join(folder, 'twins.tessellon'),
			'recipe 1\nlet a = 1\nrectangle o = (0, 0) to (a, 2)\nregion r at (0.1, 0.1)\nsize 0.5\nfill r triangles\nstudy s = from "twins.csv"\n'
		);
		writeFileSync(join(folder, 'twins.csv'), 'case,a\na,1\na,2\na_2,3\n');
		const areas = () =>
			(JSON.parse(read('twins/table.json')) as Record<string, string>[]).map((row) => [row.case, row.a, Number(row.area)]);
		expect(run(['twins.tessellon', '--out', 'twins']).stdout).toBe('3 done\n');
		const close = (value: number) => expect.closeTo(value, 9) as number;
		expect(areas()).toEqual([
			['a', '1', close(2)],
			['a', '2', close(4)],
			['a_2', '3', close(6)]
		]);
		// A case that comes in between moves the others, and runs alone.
		writeFileSync(join(folder, 'twins.csv'), 'case,a\nnew,5\na,1\na,2\na_2,3\n');
		const inode = (path: string) => statSync(join(folder, path)).ino;
		const before = inode('twins/cases/0003-a_2');
		expect(run(['twins.tessellon', '--out', 'twins']).stdout).toBe('4 done\n');
		expect(areas().map(([, a]) => a)).toEqual(['5', '1', '2', '3']);
		expect(areas().map(([, , area]) => area)).toEqual([10, 2, 4, 6].map(close));
		expect(inode('twins/cases/0004-a_2')).toBe(before);
	});

	it('reads only what stands beside the recipe', () => {
		const outside = mkdtempSync(join(tmpdir(), 'outside-'));
		writeFileSync(join(outside, 'secret.csv'), 'w;n\n2;2\n');
		for (const name of [`../${basename(outside)}/secret.csv`, join(outside, 'secret.csv'), '..', '.']) {
			writeFileSync(
				join(folder, 'spy.tessellon'),
				`recipe 1\nlet w = 1\nlet n = 1\nline a = (0, 0) to (w, n)\nstudy s = from "${name}"\n`
			);
			const { status, stderr } = run(['spy.tessellon', '--out', 'spied']);
			expect(status).toBe(1);
			expect(stderr).not.toContain('w;n');
		}
		// A pipe would never end.
		execFileSync('mkfifo', [join(folder, 'endless.csv')]);
		writeFileSync(
			join(folder, 'spy.tessellon'),
			'recipe 1\nlet w = 1\nline a = (0, 0) to (w, 1)\nstudy s = from "endless.csv"\n'
		);
		expect(run(['spy.tessellon', '--out', 'spied']).stderr).toContain('is no plain file');
	});

	it('ends with its children, whatever ends it', async () => {
		const text = read('plate.tessellon').replace('size 0.5', 'size 0.004') + 'study long = w in 2, 3, 4, 5, 6, 7, 8, 9\n';
		writeFileSync(join(folder, 'long.tessellon'), text);
		for (const signal of ['SIGINT', 'SIGTERM', 'SIGKILL'] as const) {
			const parent = spawn(
				'node',
				[command, 'study', 'long.tessellon', '--name', 'long', '--out', `long-${signal}`, '--jobs', '2'],
				{
					cwd: folder,
					stdio: 'ignore'
				}
			);
			const childrenOf = () => processesWith(`long-${signal}`, '--shard');
			await vi.waitFor(() => expect(childrenOf()).toHaveLength(2), { timeout: 30_000, interval: 50 });
			parent.kill(signal);
			await vi.waitFor(() => expect(childrenOf()).toEqual([]), { timeout: 30_000, interval: 50 });
		}
	}, 240_000);

	it('goes on where it was killed, and comes to the table of a run that was not', async () => {
		const recipePath = recipe('\nstudy sweep = rows from 8 to 31 in 24\n');
		expect(run([recipePath, '--out', 'whole']).stdout).toBe('24 done\n');
		let killed = 0;
		for (let k = 0; k < 8; k++) {
			const before = existsSync(join(folder, 'killed/cases')) ? readdirSync(join(folder, 'killed/cases')).length : 0;
			const child = spawn('node', [command, 'study', recipePath, '--out', 'killed'], { cwd: folder, stdio: 'ignore' });
			const over = new Promise<void>((done) => child.on('exit', () => done()));
			// As soon as a case more is there, in the middle of the next.
			for (let wait = 0; wait < 400; wait++) {
				const now = existsSync(join(folder, 'killed/cases')) ? readdirSync(join(folder, 'killed/cases')).length : 0;
				if (now > before || child.exitCode !== null) break;
				await pause(10);
			}
			if (child.exitCode === null) killed++;
			child.kill('SIGKILL');
			await over;
		}
		expect(killed).toBeGreaterThan(2);
		expect(run([recipePath, '--out', 'killed']).stdout).toBe('24 done\n');
		expect(read('killed/table.csv')).toBe(read('whole/table.csv'));
		expect(readdirSync(join(folder, 'killed/cases')).sort()).toEqual(readdirSync(join(folder, 'whole/cases')).sort());
		// What is done is not done again; a changed recipe is.
		const stamp = (name: string) =>
			execFileSync('stat', ['-c', '%y', join(folder, `killed/cases/${name}/case.json`)], { encoding: 'utf8' });
		const first = stamp('0001-rows_8');
		run([recipePath, '--out', 'killed']);
		expect(stamp('0001-rows_8')).toBe(first);
		recipe('\nlet spare = 1\nstudy sweep = rows from 8 to 31 in 24\n');
		run([recipePath, '--out', 'killed', '--jobs', '2']);
		expect(stamp('0001-rows_8')).not.toBe(first);
	}, 240_000);

	it('by shards, in processes and in an array of Slurm comes to the same table', async () => {
		const recipePath = recipe('\nstudy sweep = rows from 8 to 23 in 16\n');
		run([recipePath, '--out', 'one']);
		for (let k = 1; k <= 3; k++) expect(run([recipePath, '--out', 'three', '--shard', `${k}/3`]).status).toBe(0);
		expect(run(['collect', 'three']).stdout).toBe('16 done\n');
		expect(run([recipePath, '--out', 'two', '--jobs', '2']).stdout).toBe('16 done\n');
		// Kubernetes says the share in the environment.
		for (let k = 0; k < 2; k++) run([recipePath, '--out', 'pods'], { JOB_COMPLETION_INDEX: String(k), STUDY_SHARDS: '2' });
		run(['collect', 'pods']);
		for (const name of ['three', 'two', 'pods']) expect(read(`${name}/table.csv`)).toBe(read('one/table.csv'));

		const slurm = await startSlurm(join(folder, 'slurm'));
		try {
			const { status, stdout, stderr } = run(
				[recipePath, '--out', 'array', '--engine', 'slurm', '--jobs', '16', '--engine-option=--time=5'],
				slurm.env
			);
			expect([status, stderr]).toEqual([0, '']);
			expect(stdout).toMatch(/^array \d+ of 16 tasks, collected by job \d+\n$/);
			const log = join(folder, 'array/slurm-collect.log');
			for (let k = 0; k < 600 && !(existsSync(log) && readFileSync(log, 'utf8').includes('done')); k++) await pause(200);
			expect(read('array/table.csv')).toBe(read('one/table.csv'));
			expect(
				run([recipePath, '--out', 'refused', '--engine', 'slurm', '--engine-option=--partition=nowhere'], slurm.env).stderr
			).toContain('sbatch refused the job');
		} finally {
			await slurm.stop();
		}
	}, 240_000);
});

/** A Slurm of one node, with ports, keys and folders of its own. */
async function startSlurm(at: string): Promise<{ env: NodeJS.ProcessEnv; stop: () => Promise<void> }> {
	for (const name of ['state', 'spool', 'run']) mkdirSync(join(at, name), { recursive: true });
	const path = (name: string) => join(at, name);
	writeFileSync(path('munge.key'), randomBytes(1024), { mode: 0o400 });
	execFileSync('/usr/sbin/munged', [
		...[
			'key-file=munge.key',
			'socket=munge.socket',
			'pid-file=run/munged.pid',
			'log-file=munged.log',
			'seed-file=munged.seed'
		].map((o) => {
			const [name, file] = o.split('=') as [string, string];
			return `--${name}=${path(file)}`;
		}),
		'--force'
	]);
	const port = 27_000 + Math.floor(randomBytes(2).readUInt16BE() % 5000);
	writeFileSync(
		path('slurm.conf'),
		`ClusterName=own
SlurmctldHost=${hostname()}
AuthType=auth/munge
AuthInfo=socket=${path('munge.socket')}
CredType=cred/munge
SlurmUser=root
SlurmdUser=root
SlurmctldPort=${port}
SlurmdPort=${port + 1}
StateSaveLocation=${path('state')}
SlurmdSpoolDir=${path('spool')}
SlurmctldPidFile=${path('run/slurmctld.pid')}
SlurmdPidFile=${path('run/slurmd.pid')}
SlurmctldLogFile=${path('slurmctld.log')}
SlurmdLogFile=${path('slurmd.log')}
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
SelectType=select/cons_tres
SelectTypeParameters=CR_CPU
SchedulerType=sched/backfill
MailProg=/bin/true
ReturnToService=2
NodeName=${hostname()} CPUs=2 State=UNKNOWN
PartitionName=all Nodes=ALL Default=YES MaxTime=INFINITE State=UP
`
	);
	const env = { SLURM_CONF: path('slurm.conf') };
	execFileSync('/usr/sbin/slurmctld', ['-f', path('slurm.conf'), '-i']);
	execFileSync('/usr/sbin/slurmd', ['-f', path('slurm.conf')]);
	for (let k = 0; k < 100; k++) {
		const { stdout } = spawnSync('sinfo', ['--noheader', '--format=%t'], { encoding: 'utf8', env: { ...process.env, ...env } });
		if (stdout.trim() === 'idle') break;
		await pause(200);
	}
	return {
		env,
		async stop() {
			for (const name of ['slurmd', 'slurmctld', 'munged']) {
				const file = path(`run/${name}.pid`);
				if (existsSync(file)) await ended(Number(readFileSync(file, 'utf8')));
			}
		}
	};
}

/** The processes whose command holds all of some words. */
const processesWith = (...words: string[]) =>
	readdirSync('/proc').filter((pid) => {
		if (!/^\d+$/.test(pid)) return false;
		try {
			const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
			return words.every((word) => command.includes(word));
		} catch {
			return false;
		}
	});

/** Asks a process to end, and comes back when it has: until then it writes files of its own. */
async function ended(pid: number): Promise<void> {
	const running = () => existsSync(`/proc/${pid}/exe`);
	if (running()) process.kill(pid);
	for (let k = 0; k < 300 && running(); k++) await pause(100);
	if (running()) process.kill(pid, 'SIGKILL');
}
