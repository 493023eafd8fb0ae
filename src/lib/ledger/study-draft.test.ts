import { expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { studiesOf } from '../../core/recipe/statements/study.ts';
import { studyCases } from '../../formats/study.ts';
import { casesIn, type StudyRow, studySource } from './study-draft.ts';

const steps = (parameter: string, low: string, high: string, count: string): StudyRow => ({
	...{ parameter, way: 'steps', low, high, count },
	list: ''
});
const list = (parameter: string, values: string): StudyRow => ({
	...{ parameter, way: 'list', low: '', high: '', count: '' },
	list: values
});

/** The cases that the recipe makes of a statement. */
const casesOf = (source: string) => {
	const text = `recipe 1\nlet w = 2\nlet n = 4\n${source}\n`;
	const { model, findings } = finish(new Pipeline(() => 0).run({ text, files: {} }));
	expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
	return studyCases(studiesOf(model)[0]!, model, () => '').length;
};

it('a study as it is filled in is the statement that gives so many cases', () => {
	for (const [rows, paired, source] of [
		[[steps('w', '2', '4', '5')], false, 'study s = w from 2 to 4 in 5'],
		[[list('w', '2, 2.5, 3, '), steps('n', '4', '8', '2')], false, 'study s = w in 2, 2.5, 3, n from 4 to 8 in 2'],
		[[list('w', '2, 3'), list('n', '4, 6')], true, 'study s = w in 2, 3, n in 4, 6 paired'],
		[[list('w', '2, 3')], true, 'study s = w in 2, 3']
	] as [StudyRow[], boolean, string][]) {
		expect(studySource('s', rows, paired)).toBe(source);
		expect(casesOf(source)).toBe(casesIn(rows, paired));
	}
});

it('how many cases there are is not told while numbers are missing, or pairs do not go up', () => {
	expect(casesIn([], false)).toBeUndefined();
	expect(casesIn([steps('w', '2', '4', '')], false)).toBeUndefined();
	expect(casesIn([list('w', '2, 3'), list('n', '4')], true)).toBeUndefined();
});
