import { unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { studiesOf } from '../core/recipe/statements/study.ts';
import { UserError } from '../core/text/user-error.ts';
import { deliverAll } from './delivery.ts';
import { type StoredCase, StudyArchive } from './study-archive.ts';
import { runCase } from './study-case.ts';
import { studyCases } from './study.ts';

const text = `recipe 1
title "Plate"
let w = 2
rectangle b = (0, 0) to (w, 1)
region r at (0.1, 0.1)
fill r structured
size 0.5
group walls = b as wall
study wide = w in 2, 3
deliver vtu
`;
const run = () => finish(new Pipeline(() => 0).run({ text, files: {} }));
const cases = () => {
	const { model } = run();
	return studyCases(studiesOf(model)[0]!, model, () => '');
};

it('a case has its figures and its files, and one that fails says why and has none', async () => {
	const [one] = cases();
	const { record, parts } = await runCase(one!, 'h', run, deliverAll);
	expect(record).toMatchObject({ number: 1, hash: 'h', ok: true, message: '' });
	expect(record.figures!.area).toBeCloseTo(2, 12);
	expect(parts.map(({ name }) => name)).toEqual(['plate.vtu']);
	expect((await runCase(one!, '', run)).parts).toEqual([]);
	const failing = () => {
		throw new UserError('the sizes are too fine');
	};
	expect(await runCase(one!, '', failing, deliverAll)).toMatchObject({
		record: { ok: false, message: 'the sizes are too fine', figures: null },
		parts: []
	});
});

it('the archive of a study has the layout of its folder', async () => {
	const all = cases();
	const chunks: Uint8Array[] = [];
	const archive = new StudyArchive({ title: 'Plate', study: 'wide', cases: all }, (bytes) => chunks.push(bytes.slice()));
	for (const one of all) {
		const { record, parts } = await runCase(one, '', run, deliverAll);
		archive.add(one, record, parts);
	}
	archive.finish();
	const files = unzipSync(new Uint8Array(await new Blob(chunks as Uint8Array<ArrayBuffer>[]).arrayBuffer()));
	expect(Object.keys(files).sort()).toEqual([
		'cases/0001-w_2/case.json',
		'cases/0001-w_2/plate.vtu',
		'cases/0002-w_3/case.json',
		'cases/0002-w_3/plate.vtu',
		'datapackage.json',
		'index.html',
		'study.json',
		'table.csv',
		'table.json'
	]);
	const stored = JSON.parse(new TextDecoder().decode(files['cases/0001-w_2/case.json'])) as StoredCase;
	expect(stored).toMatchObject({ number: 1, ok: true, files: ['plate.vtu'] });
	expect(() => archive.add(all[0]!, stored, [{ name: '../out', bytes: new Uint8Array() }])).toThrow(/leads out of its folder/);
});
