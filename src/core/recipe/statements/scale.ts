import { scaling } from '../../geometry/transform.ts';
import { centreOf } from '../model/construction.ts';
import { fail } from '../model/evaluation-context.ts';
import { aboutPoint } from './about-point.ts';

export const scale = aboutPoint(
	'scale',
	{
		title: 'Scaled copy',
		form: 'scale ${curves} by ${2} around ${p}',
		doc: 'Scales curves where they stand, or with a name a copy of them; about the origin unless `around` says otherwise.'
	},
	({ by, centre }, context) => {
		const factor = context.number(by, 'number');
		if (factor === 0) fail(by, 'a scale of zero leaves nothing');
		return scaling(factor, centreOf(centre, context));
	}
);
