import { type Affine, compose, rotation, scaling, translation } from '../../../geometry/transform.ts';
import { didYouMean } from '../../../text/nearest.ts';
import { evaluatePoint } from '../../model/expressions.ts';
import type { Placing, Word } from '../../language/syntax.ts';
import { fail, type EvaluationContext } from '../../model/evaluation-context.ts';

/** The file beside a recipe that it names, whatever came of reading it. */
export function fileBeside(word: Word, { files }: Pick<EvaluationContext, 'files'>) {
	// Whatever objects have besides is no file.
	const file = Object.hasOwn(files, word.text) ? files[word.text] : undefined;
	return file ?? fail(word, `there is no file “${word.text}” beside this recipe${didYouMean(word.text, Object.keys(files))}`);
}

/** What statements that take curves from files share. */
export function fileNamed(word: Word, context: EvaluationContext) {
	const file = fileBeside(word, context);
	if ('error' in file) fail(word, `“${word.text}”: ${file.error}`);
	return file;
}

/** The map that a placing stands for: scaled and turned about the origin, then moved. */
export function placement(placing: Placing | undefined, context: EvaluationContext, unitScale = 1): Affine {
	const origin = { x: 0, y: 0 };
	let map = scaling(unitScale, origin);
	if (placing?.scaled) {
		const factor = context.number(placing.scaled, 'number');
		if (factor === 0) fail(placing.scaled, 'a scale of zero leaves nothing');
		map = compose(scaling(factor, origin), map);
	}
	if (placing?.turned) map = compose(rotation(context.number(placing.turned, 'angle'), origin), map);
	if (placing?.moved) {
		const step = evaluatePoint(placing.moved, context.scope);
		map = compose(translation(step.x, step.y), map);
	}
	return map;
}

/** A layer's name as a name of the recipe. */
export function layerName(layer: string): string {
	const clean = layer.replace(/[^\p{L}\p{N}_]+/gu, '_').replace(/^_+|_+$/g, '');
	return /^[\p{L}_]/u.test(clean) ? clean : `layer_${clean || 'unnamed'}`;
}
