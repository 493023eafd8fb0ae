import type { SplineEnds } from '../syntax.ts';
import type { SplineParameter } from '../../geometry/spline.ts';
import { Comma, keyword, Name, NumberLiteral } from '../tokens.ts';
import { ReferenceGrammar, word } from './base.ts';

/** Statements that make curves. */
export abstract class CurveGrammar extends ReferenceGrammar {
	protected pointStatement = this.RULE('pointStatement', () => {
		this.CONSUME(keyword.point);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'point', name, at: this.clause('value', () => this.SUBRULE(this.expression)) };
	});

	protected nodeStatement = this.RULE('nodeStatement', () => {
		this.CONSUME(keyword.node);
		return { kind: 'node', points: this.clause('points', () => this.SUBRULE(this.expressions)) };
	});

	protected lineStatement = this.RULE('lineStatement', () => {
		this.CONSUME(keyword.line);
		const name = this.SUBRULE(this.definedName);
		const start = this.clause('start', () => this.SUBRULE(this.expression));
		this.CONSUME(keyword.to);
		return { kind: 'line', name, start, end: this.clause('end', () => this.SUBRULE2(this.expression)) };
	});

	protected polylineStatement = this.RULE('polylineStatement', () => {
		this.CONSUME(keyword.polyline);
		const name = this.SUBRULE(this.definedName);
		const shape = this.OR([
			{ ALT: () => this.SUBRULE(this.fileShape) },
			{ ALT: () => ({ points: this.SUBRULE(this.pointChain) }) }
		]);
		const closed = this.OPTION(() => this.CONSUME(keyword.closed)) !== undefined;
		return { kind: 'polyline', name, points: [], ...shape, closed, parameter: 'chord' };
	});

	protected splineStatement = this.RULE('splineStatement', () => {
		this.CONSUME(keyword.spline);
		const name = this.SUBRULE(this.definedName);
		const shape = this.clause('shape', () =>
			this.OR([
				{ ALT: () => this.SUBRULE(this.fileShape) },
				{
					ALT: () => {
						this.CONSUME(keyword.through);
						return { points: this.SUBRULE(this.pointChain) };
					}
				}
			])
		);
		const closed = this.OPTION(() => this.CONSUME(keyword.closed)) !== undefined;
		const parameter = this.OPTION2(() =>
			this.clause('parameter', () => {
				this.CONSUME(keyword.parameter);
				return this.OR2([{ ALT: () => this.CONSUME(keyword.chord) }, { ALT: () => this.CONSUME(keyword.centripetal) }]);
			})
		);
		const ends = this.OPTION3(() => this.clause('ends', () => this.SUBRULE(this.splineEnds)));
		const corners = this.OPTION4(() =>
			this.clause('corners', () => {
				this.CONSUME(keyword.corners);
				return this.SUBRULE(this.expression);
			})
		);
		const method = (parameter?.image ?? 'chord') as SplineParameter;
		return { kind: 'spline', name, points: [], ...shape, closed, parameter: method, ends, corners };
	});

	protected splineEnds = this.RULE('splineEnds', (): SplineEnds => {
		this.CONSUME(keyword.ends);
		return this.OR<SplineEnds>([
			{
				ALT: () => {
					this.CONSUME(keyword.natural);
					return { kind: 'natural' };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword['not-a-knot']);
					return { kind: 'not-a-knot' };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.clamped);
					const start = this.SUBRULE(this.expression);
					this.CONSUME(Comma);
					return { kind: 'clamped', start, end: this.SUBRULE2(this.expression) };
				}
			}
		]);
	});

	/** `through "file"`, which of its outlines and columns, which rows not, and where it is laid. */
	protected fileShape = this.RULE('fileShape', () => {
		this.CONSUME(keyword.through);
		const file = this.clause('file', () => this.SUBRULE(this.quoted));
		const outline = this.OPTION(() =>
			this.clause('outline', () => {
				this.CONSUME(keyword.outline);
				return word(this.CONSUME(NumberLiteral));
			})
		);
		const columns = this.OPTION2(() =>
			this.clause('columns', () => {
				this.CONSUME(keyword.columns);
				const x = Number(this.CONSUME2(NumberLiteral).image);
				this.CONSUME(Comma);
				return [x, Number(this.CONSUME3(NumberLiteral).image)];
			})
		);
		const without = this.OPTION3(() =>
			this.clause('without', () => {
				this.CONSUME(keyword.without);
				const rows = [word(this.CONSUME4(NumberLiteral))];
				this.MANY(() => {
					this.CONSUME2(Comma);
					rows.push(word(this.CONSUME5(NumberLiteral)));
				});
				return rows;
			})
		);
		const start = this.OPTION4(() =>
			this.clause('from', () => {
				this.CONSUME(keyword.from);
				return this.SUBRULE(this.expression);
			})
		);
		const end = this.OPTION5(() =>
			this.clause('to', () => {
				this.CONSUME(keyword.to);
				return this.SUBRULE2(this.expression);
			})
		);
		const placing = this.SUBRULE(this.placing);
		return { file, outline, columns, without, start, end, placing };
	});

	protected polygonStatement = this.RULE('polygonStatement', () => {
		this.CONSUME(keyword.polygon);
		const name = this.SUBRULE(this.definedName);
		this.CONSUME(keyword.around);
		const centre = this.SUBRULE(this.expression);
		this.CONSUME(keyword.sides);
		const sides = this.SUBRULE2(this.expression);
		this.CONSUME(keyword.radius);
		const radius = this.SUBRULE3(this.expression);
		return { kind: 'polygon', name, centre, sides, radius, turned: this.OPTION(() => this.SUBRULE(this.turnClause)) };
	});

	protected ellipseStatement = this.RULE('ellipseStatement', () => {
		this.CONSUME(keyword.ellipse);
		const name = this.SUBRULE(this.definedName);
		this.CONSUME(keyword.around);
		const centre = this.SUBRULE(this.expression);
		this.CONSUME(keyword.radii);
		const a = this.SUBRULE2(this.expression);
		this.CONSUME(Comma);
		const radii = [a, this.SUBRULE3(this.expression)];
		const turned = this.OPTION(() => this.SUBRULE(this.turnClause));
		const range = this.OPTION2(() => {
			this.CONSUME(keyword.from);
			const from = this.SUBRULE4(this.expression);
			this.CONSUME(keyword.to);
			return { from, to: this.SUBRULE5(this.expression) };
		});
		return { kind: 'ellipse', name, centre, radii, turned, ...range };
	});

	protected bezierStatement = this.RULE('bezierStatement', () => {
		this.CONSUME(keyword.bezier);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'bezier', name, points: this.SUBRULE(this.pointChain) };
	});

	protected bsplineStatement = this.RULE('bsplineStatement', () => {
		this.CONSUME(keyword.bspline);
		const name = this.SUBRULE(this.definedName);
		const points = this.SUBRULE(this.pointChain);
		this.CONSUME(keyword.degree);
		const degree = this.SUBRULE(this.expression);
		const knots = this.OPTION(() => {
			this.CONSUME(keyword.knots);
			return this.SUBRULE(this.expressions);
		});
		const weights = this.OPTION2(() => {
			this.CONSUME(keyword.weights);
			return this.SUBRULE2(this.expressions);
		});
		return { kind: 'bspline', name, points, degree, knots, weights };
	});

	protected formulaStatement = this.RULE('formulaStatement', () => {
		this.CONSUME(keyword.curve);
		const name = this.SUBRULE(this.definedName);
		const value = this.SUBRULE(this.expression);
		this.CONSUME(keyword.for);
		const parameter = word(this.CONSUME(Name));
		this.CONSUME(keyword.from);
		const from = this.SUBRULE2(this.expression);
		this.CONSUME(keyword.to);
		return { kind: 'curve', name, value, parameter, from, to: this.SUBRULE3(this.expression) };
	});

	protected drawingStatement = this.RULE('drawingStatement', () => {
		this.CONSUME(keyword.drawing);
		const name = this.SUBRULE(this.definedName);
		this.CONSUME(keyword.from);
		const file = this.clause('file', () => this.SUBRULE(this.quoted));
		const layers = this.OPTION(() =>
			this.clause('layer', () => {
				this.CONSUME(keyword.layer);
				const list = [this.SUBRULE2(this.quoted)];
				this.MANY(() => {
					this.CONSUME(Comma);
					list.push(this.SUBRULE3(this.quoted));
				});
				return list;
			})
		);
		return { kind: 'drawing', name, file, layers, placing: this.SUBRULE(this.placing) };
	});

	protected rectangleStatement = this.RULE('rectangleStatement', () => {
		this.CONSUME(keyword.rectangle);
		const name = this.SUBRULE(this.definedName);
		const shape = this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.around);
					const centre = this.SUBRULE(this.expression);
					this.CONSUME(keyword.size);
					const width = this.SUBRULE2(this.expression);
					this.CONSUME(Comma);
					const height = this.SUBRULE3(this.expression);
					return { centre, width, height, turned: this.OPTION(() => this.SUBRULE(this.turnClause)) };
				}
			},
			{
				ALT: () => {
					const corner = this.SUBRULE4(this.expression);
					this.CONSUME(keyword.to);
					const opposite = this.SUBRULE5(this.expression);
					const third = this.OPTION2(() => {
						this.CONSUME2(keyword.to);
						return this.SUBRULE6(this.expression);
					});
					return { corner, opposite, third };
				}
			}
		]);
		return { kind: 'rectangle', name, ...shape };
	});

	protected arcStatement = this.RULE('arcStatement', () => {
		this.CONSUME(keyword.arc);
		const name = this.SUBRULE(this.definedName);
		const start = this.SUBRULE(this.expression);
		this.CONSUME(keyword.to);
		const end = this.SUBRULE2(this.expression);
		const shape = this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.around);
					const centre = this.SUBRULE3(this.expression);
					return { centre, clockwise: this.OPTION(() => this.CONSUME(keyword.clockwise)) !== undefined };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.through);
					return { through: this.SUBRULE4(this.expression), clockwise: false };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.radius);
					const radius = this.SUBRULE5(this.expression);
					const clockwise = this.OPTION2(() => this.CONSUME2(keyword.clockwise)) !== undefined;
					return { radius, clockwise, long: this.OPTION3(() => this.CONSUME(keyword.long)) !== undefined };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.tangent);
					return { tangent: this.SUBRULE(this.curveReference), clockwise: false };
				}
			}
		]);
		return { kind: 'arc', name, start, end, ...shape };
	});

	protected circleStatement = this.RULE('circleStatement', () => {
		this.CONSUME(keyword.circle);
		const name = this.SUBRULE(this.definedName);
		this.CONSUME(keyword.around);
		const centre = this.SUBRULE(this.expression);
		this.CONSUME(keyword.radius);
		return { kind: 'circle', name, centre, radius: this.SUBRULE2(this.expression) };
	});
}
