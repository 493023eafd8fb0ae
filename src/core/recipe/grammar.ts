import { EmbeddedActionsParser, type IToken } from 'chevrotain';
import type {
	Clause,
	CurveReference,
	Expression,
	Placing,
	SpacingWord,
	SplineEnds,
	SplineParameter,
	Statement,
	Word
} from './syntax.ts';
import {
	allTokens,
	CloseRound,
	CloseSquare,
	Comma,
	Divided,
	Dot,
	Equals,
	keyword,
	Minus,
	Name,
	NumberLiteral,
	OpenRound,
	OpenSquare,
	Plus,
	Power,
	Text,
	Times,
	Unit
} from './tokens.ts';

const word = (token: IToken): Word => ({
	text: token.image,
	from: token.startOffset,
	to: token.startOffset + token.image.length
});

/**
 * The grammar of one statement. `parse.ts` cuts a recipe into statements and hands each to
 * `statement`; completion asks the same rules what may stand next.
 */
export class StatementParser extends EmbeddedActionsParser {
	private clauses: Clause[] = [];

	constructor() {
		super(allTokens, { maxLookahead: 2, recoveryEnabled: false });
		this.performSelfAnalysis();
	}

	/** Any statement; the tokens of one logical line are the whole input. */
	statement = this.RULE('statement', (): Statement => {
		this.ACTION(() => (this.clauses = []));
		const clauses = this.clauses;
		const body = this.OR<Omit<Statement, 'clauses'>>([
			{ ALT: () => this.SUBRULE(this.recipeStatement) },
			{ ALT: () => this.SUBRULE(this.titleStatement) },
			{ ALT: () => this.SUBRULE(this.unitsStatement) },
			{ ALT: () => this.SUBRULE(this.frameStatement) },
			{ ALT: () => this.SUBRULE(this.letStatement) },
			{ ALT: () => this.SUBRULE(this.pointStatement) },
			{ ALT: () => this.SUBRULE(this.lineStatement) },
			{ ALT: () => this.SUBRULE(this.nodeStatement) },
			{ ALT: () => this.SUBRULE(this.polygonStatement) },
			{ ALT: () => this.SUBRULE(this.ellipseStatement) },
			{ ALT: () => this.SUBRULE(this.bezierStatement) },
			{ ALT: () => this.SUBRULE(this.bsplineStatement) },
			{ ALT: () => this.SUBRULE(this.formulaStatement) },
			{ ALT: () => this.SUBRULE(this.drawingStatement) },
			{ ALT: () => this.SUBRULE(this.cornerStatement) },
			{ ALT: () => this.SUBRULE(this.offsetStatement) },
			{ ALT: () => this.SUBRULE(this.trimStatement) },
			{ ALT: () => this.SUBRULE(this.extendStatement) },
			{ ALT: () => this.SUBRULE(this.splitStatement) },
			{ ALT: () => this.SUBRULE(this.joinStatement) },
			{ ALT: () => this.SUBRULE(this.mirrorStatement) },
			{ ALT: () => this.SUBRULE(this.moveStatement) },
			{ ALT: () => this.SUBRULE(this.turnOrScaleStatement) },
			{ ALT: () => this.SUBRULE(this.repeatStatement) },
			{ ALT: () => this.SUBRULE(this.cutStatement) },
			{ ALT: () => this.SUBRULE(this.farStatement) },
			{ ALT: () => this.SUBRULE(this.polylineStatement) },
			{ ALT: () => this.SUBRULE(this.splineStatement) },
			{ ALT: () => this.SUBRULE(this.rectangleStatement) },
			{ ALT: () => this.SUBRULE(this.arcStatement) },
			{ ALT: () => this.SUBRULE(this.circleStatement) },
			{ ALT: () => this.SUBRULE(this.regionStatement) },
			{ ALT: () => this.SUBRULE(this.divideStatement) },
			{ ALT: () => this.SUBRULE(this.fillStatement) },
			{ ALT: () => this.SUBRULE(this.sizeStatement) },
			{ ALT: () => this.SUBRULE(this.groupStatement) }
		]);
		return { ...body, clauses } as Statement;
	});

	private recipeStatement = this.RULE('recipeStatement', () => {
		this.CONSUME(keyword.recipe);
		return { kind: 'recipe', version: Number(this.CONSUME(NumberLiteral).image) };
	});

	private titleStatement = this.RULE('titleStatement', () => {
		this.CONSUME(keyword.title);
		const title = this.clause('title', () => this.CONSUME(Text));
		return { kind: 'title', title: title.image.slice(1, -1) };
	});

	private unitsStatement = this.RULE('unitsStatement', () => {
		this.CONSUME(keyword.units);
		return { kind: 'units', unit: this.clause('unit', () => word(this.CONSUME(Name))) };
	});

	private frameStatement = this.RULE('frameStatement', () => {
		this.CONSUME(keyword.frame);
		return this.clause('frame', () =>
			this.OR([
				{
					ALT: () => {
						this.CONSUME(keyword.planar);
						return { kind: 'frame', frame: 'planar' };
					}
				},
				{
					ALT: () => {
						this.CONSUME(keyword.axisymmetric);
						this.CONSUME(keyword.about);
						return { kind: 'frame', frame: 'axisymmetric', axis: this.CONSUME(Name).image };
					}
				}
			])
		);
	});

	private letStatement = this.RULE('letStatement', () => {
		this.CONSUME(keyword.let);
		const name = this.SUBRULE(this.definedName);
		const value = this.clause('value', () => this.SUBRULE(this.expression));
		const range = this.OPTION(() =>
			this.clause('range', () => {
				this.CONSUME(keyword.range);
				const low = this.SUBRULE2(this.expression);
				this.CONSUME(keyword.to);
				return { low, high: this.SUBRULE3(this.expression) };
			})
		);
		return { kind: 'let', name, value, range };
	});

	private pointStatement = this.RULE('pointStatement', () => {
		this.CONSUME(keyword.point);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'point', name, at: this.clause('value', () => this.SUBRULE(this.expression)) };
	});

	private nodeStatement = this.RULE('nodeStatement', () => {
		this.CONSUME(keyword.node);
		return { kind: 'node', points: this.clause('points', () => this.SUBRULE(this.expressions)) };
	});

	private lineStatement = this.RULE('lineStatement', () => {
		this.CONSUME(keyword.line);
		const name = this.SUBRULE(this.definedName);
		const start = this.clause('start', () => this.SUBRULE(this.expression));
		this.CONSUME(keyword.to);
		return { kind: 'line', name, start, end: this.clause('end', () => this.SUBRULE2(this.expression)) };
	});

	private polylineStatement = this.RULE('polylineStatement', () => {
		this.CONSUME(keyword.polyline);
		const name = this.SUBRULE(this.definedName);
		const shape = this.OR([
			{ ALT: () => this.SUBRULE(this.fileShape) },
			{ ALT: () => ({ points: this.SUBRULE(this.pointChain) }) }
		]);
		const closed = this.OPTION(() => this.CONSUME(keyword.closed)) !== undefined;
		return { kind: 'polyline', name, points: [], ...shape, closed, parameter: 'chord' };
	});

	private splineStatement = this.RULE('splineStatement', () => {
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

	private splineEnds = this.RULE('splineEnds', (): SplineEnds => {
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
	private fileShape = this.RULE('fileShape', () => {
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

	/** `scaled 0.001 turned 90 deg moved (10, 0)` */
	private placing = this.RULE('placing', (): Placing => {
		const part = (name: 'scaled' | 'turned' | 'moved', parse: () => Expression) =>
			this.clause(name, () => {
				this.CONSUME(keyword[name]);
				return parse();
			});
		const scaled = this.OPTION(() => part('scaled', () => this.SUBRULE(this.expression)));
		const turned = this.OPTION2(() => part('turned', () => this.SUBRULE2(this.expression)));
		const moved = this.OPTION3(() => part('moved', () => this.SUBRULE3(this.expression)));
		return { ...(scaled ? { scaled } : {}), ...(turned ? { turned } : {}), ...(moved ? { moved } : {}) };
	});

	private quoted = this.RULE('quoted', (): Word => {
		const token = this.CONSUME(Text);
		return { text: token.image.slice(1, -1), from: token.startOffset, to: token.startOffset + token.image.length };
	});

	private expressions = this.RULE('expressions', () => {
		const list = [this.SUBRULE(this.expression)];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(this.SUBRULE2(this.expression));
		});
		return list;
	});

	private turnClause = this.RULE('turnClause', () => {
		this.CONSUME(keyword.turned);
		return this.SUBRULE(this.expression);
	});

	private polygonStatement = this.RULE('polygonStatement', () => {
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

	private ellipseStatement = this.RULE('ellipseStatement', () => {
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

	private bezierStatement = this.RULE('bezierStatement', () => {
		this.CONSUME(keyword.bezier);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'bezier', name, points: this.SUBRULE(this.pointChain) };
	});

	private bsplineStatement = this.RULE('bsplineStatement', () => {
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

	private formulaStatement = this.RULE('formulaStatement', () => {
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

	private drawingStatement = this.RULE('drawingStatement', () => {
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

	/** `fillet f = a with b near p radius 3`, `chamfer c = a with b lengths 2, 3` */
	private cornerStatement = this.RULE('cornerStatement', () => {
		const kind = this.OR([{ ALT: () => this.CONSUME(keyword.fillet) }, { ALT: () => this.CONSUME(keyword.chamfer) }]).image;
		const name = this.SUBRULE(this.definedName);
		const [first, second] = this.clause('curves', () => {
			const a = this.SUBRULE(this.curveReference);
			this.CONSUME(keyword.with);
			return [a, this.SUBRULE2(this.curveReference)];
		});
		const near = this.OPTION(() =>
			this.clause('near', () => {
				this.CONSUME(keyword.near);
				return this.SUBRULE(this.expression);
			})
		);
		const lengths = this.OR2([
			{
				GATE: () => kind === 'fillet',
				ALT: () =>
					this.clause('radius', () => {
						this.CONSUME(keyword.radius);
						return [this.SUBRULE2(this.expression)];
					})
			},
			{
				ALT: () =>
					this.clause('lengths', () => {
						this.CONSUME(keyword.lengths);
						return this.SUBRULE(this.expressions);
					})
			}
		]);
		return { kind, name, first, second, near, lengths };
	});

	private offsetStatement = this.RULE('offsetStatement', () => {
		this.CONSUME(keyword.offset);
		const name = this.SUBRULE(this.definedName);
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.by);
		const by = this.SUBRULE(this.expression);
		const side = this.OR([
			{ ALT: () => this.CONSUME(keyword.left) },
			{ ALT: () => this.CONSUME(keyword.right) },
			{ ALT: () => this.CONSUME(keyword.both) },
			{ ALT: () => this.CONSUME(keyword.inside) },
			{ ALT: () => this.CONSUME(keyword.outside) }
		]).image;
		return { kind: 'offset', name, curves, by, side, mitred: this.OPTION(() => this.CONSUME(keyword.mitred)) !== undefined };
	});

	private trimStatement = this.RULE('trimStatement', () => {
		this.CONSUME(keyword.trim);
		const curve = this.SUBRULE(this.curveReference);
		this.CONSUME(keyword.to);
		const to = this.SUBRULE2(this.curveReference);
		this.CONSUME(keyword.keep);
		return { kind: 'trim', curve, to, keep: this.SUBRULE(this.expression) };
	});

	private extendStatement = this.RULE('extendStatement', () => {
		this.CONSUME(keyword.extend);
		const curve = this.SUBRULE(this.curveReference);
		this.CONSUME(keyword.to);
		return { kind: 'extend', curve, to: this.SUBRULE2(this.curveReference) };
	});

	private splitStatement = this.RULE('splitStatement', () => {
		this.CONSUME(keyword.split);
		const curve = this.SUBRULE(this.curveReference);
		const where = this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.at);
					return { at: this.SUBRULE(this.expressions) };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.into);
					return { into: this.SUBRULE(this.expression) };
				}
			}
		]);
		return { kind: 'split', curve, ...where };
	});

	private joinStatement = this.RULE('joinStatement', () => {
		this.CONSUME(keyword.join);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'join', name, curves: this.SUBRULE(this.curveReferences) };
	});

	private mirrorStatement = this.RULE('mirrorStatement', () => {
		this.CONSUME(keyword.mirror);
		const name = this.SUBRULE(this.definedName);
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.across);
		const across = this.SUBRULE(this.expression);
		const to = this.OPTION(() => {
			this.CONSUME(keyword.to);
			return this.SUBRULE2(this.expression);
		});
		return { kind: 'mirror', name, curves, across, to };
	});

	private moveStatement = this.RULE('moveStatement', () => {
		this.CONSUME(keyword.move);
		const name = this.OPTION(() => this.SUBRULE(this.definedName));
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.by);
		return { kind: 'move', name, curves, by: this.SUBRULE(this.expression) };
	});

	private turnOrScaleStatement = this.RULE('turnOrScaleStatement', () => {
		const kind = this.OR([{ ALT: () => this.CONSUME(keyword.turn) }, { ALT: () => this.CONSUME(keyword.scale) }]).image;
		const name = this.OPTION(() => this.SUBRULE(this.definedName));
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.by);
		const by = this.SUBRULE(this.expression);
		const centre = this.OPTION2(() => {
			this.CONSUME(keyword.around);
			return this.SUBRULE2(this.expression);
		});
		return { kind, name, curves, by, centre };
	});

	private repeatStatement = this.RULE('repeatStatement', () => {
		this.CONSUME(keyword.repeat);
		const name = this.SUBRULE(this.definedName);
		const curves = this.SUBRULE(this.curveReferences);
		const way = this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.by);
					return { by: this.SUBRULE(this.expression) };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.around);
					const centre = this.SUBRULE2(this.expression);
					const by = this.OPTION(() => {
						this.CONSUME2(keyword.by);
						return this.SUBRULE3(this.expression);
					});
					return { centre, by };
				}
			}
		]);
		this.CONSUME(keyword.count);
		return { kind: 'repeat', name, curves, ...way, count: this.SUBRULE4(this.expression) };
	});

	/** `cut c = p to wall`, `cut c = wall at 0.5 to pipe turned 10 deg`, `cut c = p to wall heading 90 deg` */
	private cutStatement = this.RULE('cutStatement', () => {
		this.CONSUME(keyword.cut);
		const name = this.SUBRULE(this.definedName);
		const start = this.SUBRULE(this.expression);
		const share = this.OPTION(() => {
			this.CONSUME(keyword.at);
			return this.SUBRULE2(this.expression);
		});
		this.CONSUME(keyword.to);
		const end = this.SUBRULE3(this.expression);
		const direction = this.OPTION2(() =>
			this.OR([
				{ ALT: () => ({ turned: this.SUBRULE(this.turnClause) }) },
				{
					ALT: () => {
						this.CONSUME(keyword.heading);
						return { heading: this.SUBRULE4(this.expression) };
					}
				}
			])
		);
		return { kind: 'cut', name, start, share, end, ...direction };
	});

	private farStatement = this.RULE('farStatement', () => {
		this.CONSUME(keyword.far);
		const name = this.SUBRULE(this.definedName);
		const shape = this.OR([
			{ ALT: () => this.CONSUME(keyword.box) },
			{ ALT: () => this.CONSUME(keyword.circle) },
			{ ALT: () => this.CONSUME(keyword.wake) }
		]).image;
		this.CONSUME(keyword.around);
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.by);
		return { kind: 'far', name, shape, curves, by: this.SUBRULE(this.expression) };
	});

	private pointChain = this.RULE('pointChain', () => {
		const points = [this.SUBRULE(this.expression)];
		this.AT_LEAST_ONE(() => {
			this.CONSUME(keyword.to);
			points.push(this.SUBRULE2(this.expression));
		});
		return points;
	});

	private rectangleStatement = this.RULE('rectangleStatement', () => {
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

	private arcStatement = this.RULE('arcStatement', () => {
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

	private circleStatement = this.RULE('circleStatement', () => {
		this.CONSUME(keyword.circle);
		const name = this.SUBRULE(this.definedName);
		this.CONSUME(keyword.around);
		const centre = this.SUBRULE(this.expression);
		this.CONSUME(keyword.radius);
		return { kind: 'circle', name, centre, radius: this.SUBRULE2(this.expression) };
	});

	private regionStatement = this.RULE('regionStatement', () => {
		this.CONSUME(keyword.region);
		const name = this.clause('name', () => word(this.CONSUME(Name)));
		const shape = this.clause('bounds', () =>
			this.OR([
				{
					ALT: () => {
						this.CONSUME(keyword.bounded);
						this.CONSUME(keyword.by);
						return { bounds: this.SUBRULE(this.curveReferences) };
					}
				},
				{
					ALT: () => {
						this.CONSUME(keyword.at);
						return { at: this.SUBRULE(this.expression) };
					}
				}
			])
		);
		return { kind: 'region', name, ...shape };
	});

	private divideStatement = this.RULE('divideStatement', () => {
		this.CONSUME(keyword.divide);
		const pieces = this.clause('pieces', () => this.SUBRULE(this.curveReferences));
		const asOne = this.OPTION(() =>
			this.clause('chain', () => {
				this.CONSUME(keyword.as);
				this.CONSUME(keyword.one);
				return true;
			})
		);
		const division = this.OR([
			{
				ALT: () => {
					const count = this.SUBRULE(this.countClause);
					return { ...count, ...this.OPTION2(() => this.SUBRULE(this.spacingClause)) };
				}
			},
			{ ALT: () => this.SUBRULE2(this.spacingClause) }
		]);
		return { kind: 'divide', pieces, ...(asOne ? { asOne } : {}), ...division };
	});

	private countClause = this.RULE('countClause', () =>
		this.clause('count', () =>
			this.OR([
				{
					ALT: () => {
						this.CONSUME(keyword.into);
						return { into: this.SUBRULE(this.expression) };
					}
				},
				{
					ALT: () => {
						this.CONSUME(keyword.by);
						return this.OR2([
							{
								ALT: () => {
									this.CONSUME(keyword.size);
									return { size: this.SUBRULE2(this.expression) };
								}
							},
							{
								ALT: () => {
									this.CONSUME(keyword.turn);
									return { perTurn: this.SUBRULE3(this.expression) };
								}
							},
							{
								ALT: () => {
									this.CONSUME(keyword.chord);
									return { chordError: this.SUBRULE4(this.expression) };
								}
							}
						]);
					}
				}
			])
		)
	);

	private spacingClause = this.RULE('spacingClause', () =>
		this.clause('spacing', () =>
			this.OR([
				{
					ALT: () => {
						const numbers: Partial<Record<SpacingWord, Expression>> = {};
						this.AT_LEAST_ONE(() => {
							const name = this.OR2([
								{ ALT: () => this.CONSUME(keyword.bias) },
								{ ALT: () => this.CONSUME(keyword.first) },
								{ ALT: () => this.CONSUME(keyword.last) },
								{ ALT: () => this.CONSUME(keyword.growth) }
							]);
							numbers[name.image as SpacingWord] = this.SUBRULE(this.expression);
						});
						this.OR3([{ ALT: () => this.CONSUME(keyword.toward) }, { ALT: () => this.CONSUME(keyword.at) }]);
						return { numbers, toward: this.SUBRULE(this.spacingEnd) };
					}
				},
				{
					ALT: () => {
						this.CONSUME(keyword.positions);
						const positions = this.SUBRULE(this.expressions);
						this.CONSUME(keyword.from);
						return { positions, toward: this.SUBRULE2(this.spacingEnd) };
					}
				},
				{
					ALT: () => {
						this.CONSUME(keyword.like);
						return { like: this.SUBRULE(this.curveReference) };
					}
				}
			])
		)
	);

	private spacingEnd = this.RULE('spacingEnd', () =>
		this.OR<string | CurveReference>({
			// A curve may be called `both` or `middle`; here the words win.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				{ ALT: () => this.CONSUME(keyword.both).image },
				{ ALT: () => this.CONSUME(keyword.middle).image },
				{ ALT: () => this.SUBRULE(this.curveReference) }
			]
		})
	);

	private fillStatement = this.RULE('fillStatement', () => {
		this.CONSUME(keyword.fill);
		const regions = this.clause('regions', () => this.SUBRULE(this.names));
		const fill = this.OR([
			{
				ALT: () => {
					this.clause('fill', () => this.CONSUME(keyword.structured));
					const corners = this.OPTION(() =>
						this.clause('corners', () => {
							this.CONSUME(keyword.corners);
							const list = [this.SUBRULE(this.expression)];
							this.AT_LEAST_ONE(() => {
								this.CONSUME(Comma);
								list.push(this.SUBRULE2(this.expression));
							});
							return list;
						})
					);
					const across = this.OPTION3(() =>
						this.clause('across', () => {
							this.CONSUME(keyword.into);
							return { into: this.SUBRULE4(this.expression) };
						})
					);
					const spacing = this.OPTION4(() => this.SUBRULE(this.spacingClause));
					const smooth = this.OPTION5(() =>
						this.clause('smooth', () => {
							this.CONSUME(keyword.smooth);
							return { sweeps: this.OPTION6(() => this.SUBRULE5(this.expression)) };
						})
					);
					return {
						fill: 'structured',
						corners,
						...across,
						...(spacing ? { spacing } : {}),
						...(smooth ? { smooth: true, ...smooth } : {})
					};
				}
			},
			{
				ALT: () => {
					this.clause('fill', () => this.CONSUME(keyword.triangles));
					const size = this.OPTION2(() =>
						this.clause('size', () => {
							this.CONSUME(keyword.size);
							return this.SUBRULE3(this.expression);
						})
					);
					return { fill: 'triangles', size };
				}
			},
			{
				ALT: () => {
					this.clause('fill', () => this.CONSUME(keyword.none));
					return { fill: 'none' };
				}
			}
		]);
		return { kind: 'fill', regions, ...fill };
	});

	private sizeStatement = this.RULE('sizeStatement', () => {
		this.CONSUME(keyword.size);
		return this.OR([
			{
				ALT: () => {
					const zone = this.clause('zone', () => {
						this.CONSUME(keyword.by);
						const by = this.OR2([{ ALT: () => this.CONSUME(keyword.turn) }, { ALT: () => this.CONSUME(keyword.gap) }]).image;
						return { kind: by, number: this.SUBRULE(this.expression) };
					});
					return { kind: 'zone', zone };
				}
			},
			{
				ALT: () => {
					const size = this.clause('size', () => this.SUBRULE2(this.expression));
					return this.OR3([
						{
							ALT: () => {
								const zone = this.clause('zone', () => this.SUBRULE(this.zone));
								const fade = this.OPTION(() =>
									this.clause('fade', () => {
										this.CONSUME(keyword.fade);
										return this.SUBRULE3(this.expression);
									})
								);
								return { kind: 'zone', size, zone, fade };
							}
						},
						{
							ALT: () => {
								const growth = this.OPTION2(() =>
									this.clause('growth', () => {
										this.CONSUME(keyword.growth);
										return this.SUBRULE4(this.expression);
									})
								);
								return { kind: 'size', size, growth };
							}
						}
					]);
				}
			}
		]);
	});

	/** Where a size of its own holds. */
	private zone = this.RULE('zone', () =>
		this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.near);
					const references = this.SUBRULE(this.curveReferences);
					const within = this.OPTION(() => {
						this.CONSUME(keyword.within);
						return this.SUBRULE(this.expression);
					});
					return { kind: 'near', references, within };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.at);
					return { kind: 'at', point: this.SUBRULE2(this.expression) };
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.inside);
					return this.OR2({
						// A curve may be called `box`; here the word wins.
						IGNORE_AMBIGUITIES: true,
						DEF: [
							{
								ALT: () => {
									this.CONSUME(keyword.circle);
									this.CONSUME(keyword.around);
									const centre = this.SUBRULE3(this.expression);
									this.CONSUME(keyword.radius);
									return { kind: 'circle', centre, radius: this.SUBRULE4(this.expression) };
								}
							},
							{
								ALT: () => {
									this.CONSUME(keyword.box);
									const from = this.SUBRULE5(this.expression);
									this.CONSUME(keyword.to);
									return { kind: 'box', corners: [from, this.SUBRULE6(this.expression)] };
								}
							},
							{ ALT: () => ({ kind: 'curve', curve: this.SUBRULE(this.curveReference) }) }
						]
					});
				}
			},
			{
				ALT: () => {
					this.CONSUME(keyword.behind);
					const references = this.SUBRULE2(this.curveReferences);
					const along = this.OPTION2(() => {
						this.CONSUME(keyword.along);
						return this.SUBRULE7(this.expression);
					});
					this.CONSUME(keyword.length);
					const length = this.SUBRULE8(this.expression);
					const widening = this.OPTION3(() => {
						this.CONSUME(keyword.widening);
						return this.SUBRULE9(this.expression);
					});
					return { kind: 'wake', references, along, length, widening };
				}
			}
		])
	);

	private groupStatement = this.RULE('groupStatement', () => {
		this.CONSUME(keyword.group);
		const name = this.SUBRULE(this.definedName);
		const members = this.OR([
			{
				ALT: () => {
					const regions = this.clause('members', () => {
						this.CONSUME(keyword.region);
						return this.SUBRULE(this.names);
					});
					return { regions };
				}
			},
			{
				ALT: () => {
					const pieces = this.clause('members', () => this.SUBRULE(this.curveReferences));
					const boundary = this.OPTION(() =>
						this.clause('kind', () => {
							this.CONSUME(keyword.as);
							return word(this.CONSUME(Name));
						})
					);
					return { pieces, boundary };
				}
			}
		]);
		const colour = this.OPTION2(() =>
			this.clause('colour', () => {
				this.CONSUME(keyword.colour);
				return word(this.CONSUME2(Name));
			})
		);
		return { kind: 'group', name, ...members, colour };
	});

	/** `name =` */
	private definedName = this.RULE('definedName', () => {
		const name = this.clause('name', () => word(this.CONSUME(Name)));
		this.CONSUME(Equals);
		return name;
	});

	private names = this.RULE('names', () => {
		const list = [word(this.CONSUME(Name))];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(word(this.CONSUME2(Name)));
		});
		return list;
	});

	private curveReferences = this.RULE('curveReferences', () => {
		const list = [this.SUBRULE(this.curveReference)];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(this.SUBRULE2(this.curveReference));
		});
		return list;
	});

	private curveReference = this.RULE('curveReference', (): CurveReference => {
		const from = this.LA(1).startOffset;
		let name = this.CONSUME(Name).image;
		this.OPTION(() => {
			this.CONSUME(Dot);
			name += '.' + this.CONSUME2(Name).image;
		});
		const piece = this.OPTION2(() => {
			this.CONSUME(OpenSquare);
			const index = this.CONSUME(NumberLiteral);
			this.CONSUME(CloseSquare);
			return Number(index.image);
		});
		return { name, ...(piece === undefined ? {} : { piece }), from, to: this.lastEnd() };
	});

	/** An expression alone; also the rule for a value given on the command line. */
	expression = this.RULE('expression', (): Expression => {
		let left = this.SUBRULE(this.term);
		this.MANY(() => {
			const operator = this.OR([{ ALT: () => this.CONSUME(Plus) }, { ALT: () => this.CONSUME(Minus) }]);
			left = binary(operator, left, this.SUBRULE2(this.term));
		});
		return left;
	});

	private term = this.RULE('term', (): Expression => {
		let left = this.SUBRULE(this.factor);
		this.MANY(() => {
			const operator = this.OR([{ ALT: () => this.CONSUME(Times) }, { ALT: () => this.CONSUME(Divided) }]);
			left = binary(operator, left, this.SUBRULE2(this.factor));
		});
		return left;
	});

	private factor = this.RULE('factor', (): Expression =>
		this.OR<Expression>([
			{
				ALT: () => {
					const minus = this.CONSUME(Minus);
					const operand = this.SUBRULE(this.factor);
					return { kind: 'negate', operand, from: minus.startOffset, to: this.lastEnd() };
				}
			},
			{ ALT: () => this.SUBRULE(this.power) }
		])
	);

	private power = this.RULE('power', (): Expression => {
		let left = this.SUBRULE(this.primary);
		this.OPTION(() => {
			const operator = this.CONSUME(Power);
			left = binary(operator, left, this.SUBRULE(this.factor));
		});
		return left;
	});

	private primary = this.RULE('primary', (): Expression => {
		const from = this.LA(1).startOffset;
		return this.OR<Expression>([
			{
				ALT: () => {
					const value = Number(this.CONSUME(NumberLiteral).image);
					const unit = this.OPTION(() => this.CONSUME(Unit).image);
					return { kind: 'number', value, ...(unit === undefined ? {} : { unit }), from, to: this.lastEnd() };
				}
			},
			{
				ALT: () => {
					this.CONSUME(OpenRound);
					const x = this.SUBRULE(this.expression);
					const y = this.OPTION2(() => {
						this.CONSUME(Comma);
						return this.SUBRULE2(this.expression);
					});
					this.CONSUME(CloseRound);
					if (y === undefined) return { ...x, from, to: this.lastEnd() };
					return { kind: 'pair', x, y, from, to: this.lastEnd() };
				}
			},
			{
				ALT: () => {
					const name = word(this.CONSUME(Name));
					return this.OR2<Expression>([
						{
							ALT: () => {
								this.CONSUME(Dot);
								const member = this.CONSUME2(Name).image;
								return { kind: 'member', object: name.text, member, from, to: this.lastEnd() };
							}
						},
						{
							ALT: () => {
								this.CONSUME2(OpenRound);
								const list: Expression[] = [];
								this.MANY_SEP({ SEP: Comma, DEF: () => list.push(this.SUBRULE3(this.expression)) });
								this.CONSUME2(CloseRound);
								return { kind: 'call', callee: name, arguments: list, from, to: this.lastEnd() };
							}
						},
						{ ALT: () => ({ kind: 'name', name: name.text, from, to: this.lastEnd() }) }
					]);
				}
			}
		]);
	});

	/** Runs `parse` and notes what it consumed as a clause of the statement. */
	private clause<T>(name: string, parse: () => T): T {
		const from = this.LA(1).startOffset;
		const result = parse();
		this.ACTION(() => this.clauses.push({ name, from, to: this.lastEnd() }));
		return result;
	}

	private lastEnd(): number {
		const last = this.LA(0);
		return last.startOffset + last.image.length;
	}
}

function binary(operator: IToken, left: Expression, right: Expression): Expression {
	const sign = operator?.image as '+';
	return { kind: 'binary', operator: sign, left, right, from: left?.from, to: right?.to };
}
