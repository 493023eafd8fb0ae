import { scaling } from '../../geometry/transform.ts';
import { centreOf } from '../model/construction.ts';
import { fail } from '../model/evaluation-context.ts';
import { aboutPoint } from './about-point.ts';

export const scale = aboutPoint(
	'scale',
	{
		title: 'Scaled curve',
		form: 'scale ${curves} by ${2} about ${p}',
		doc: 'Scales curves where they stand; about the origin unless `about` says otherwise. `copy` leaves them and makes another.'
	},
	({ by, centre }, context) => {
		const factor = context.number(by, 'number');
		if (factor === 0) fail(by, 'a scale of zero leaves nothing');
		return scaling(factor, centreOf(centre, context));
	}
);
