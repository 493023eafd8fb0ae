import { rotation } from '../../geometry/transform.ts';
import { centreOf } from '../model/construction.ts';
import { aboutPoint } from './about-point.ts';

export const turn = aboutPoint(
	'turn',
	{
		title: 'Turned curve',
		form: 'turn ${curves} by ${15 deg} about ${p}',
		doc: 'Turns curves where they stand; about the origin unless `about` says otherwise. `copy` leaves them and makes another.'
	},
	({ by, centre }, context) => rotation(context.number(by, 'angle'), centreOf(centre, context))
);
