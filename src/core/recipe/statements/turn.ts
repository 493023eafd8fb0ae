import { rotation } from '../../geometry/transform.ts';
import { centreOf } from '../model/construction.ts';
import { aboutPoint } from './about-point.ts';

export const turn = aboutPoint(
	'turn',
	{
		title: 'Turned copy',
		form: 'turn ${curves} by ${15 deg} around ${p}',
		doc: 'Turns curves where they stand, or with a name a copy of them; about the origin unless `around` says otherwise.'
	},
	({ by, centre }, context) => rotation(context.number(by, 'angle'), centreOf(centre, context))
);
