import { EmbeddedActionsParser, type IToken } from 'chevrotain';
import type { Clause, CurveReference, Expression, SplineParameter, Statement, Word } from './syntax.ts';
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

	private lineStatement = this.RULE('lineStatement', () => {
		this.CONSUME(keyword.line);
		const name = this.SUBRULE(this.definedName);
		const start = this.SUBRULE(this.expression);
		this.CONSUME(keyword.to);
		return { kind: 'line', name, start, end: this.SUBRULE2(this.expression) };
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
		return { kind: 'spline', name, points: [], ...shape, closed, parameter: (parameter?.image ?? 'chord') as SplineParameter };
	});

	/** `through "file"`, which of its outlines, and the points on which its first and last rows lie. */
	private fileShape = this.RULE('fileShape', () => {
		this.CONSUME(keyword.through);
		const token = this.CONSUME(Text);
		const file = { text: token.image.slice(1, -1), from: token.startOffset, to: token.startOffset + token.image.length };
		const outline = this.OPTION3(() => {
			this.CONSUME(keyword.outline);
			return word(this.CONSUME(NumberLiteral));
		});
		const start = this.OPTION(() => {
			this.CONSUME(keyword.from);
			return this.SUBRULE(this.expression);
		});
		const end = this.OPTION2(() => {
			this.CONSUME(keyword.to);
			return this.SUBRULE2(this.expression);
		});
		return { file, outline, start, end };
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
					return { centre, width, height: this.SUBRULE3(this.expression) };
				}
			},
			{
				ALT: () => {
					const corner = this.SUBRULE4(this.expression);
					this.CONSUME(keyword.to);
					return { corner, opposite: this.SUBRULE5(this.expression) };
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
		const division = this.OR([
			{
				ALT: () => {
					const count = this.SUBRULE(this.countClause);
					return { ...count, ...this.OPTION(() => this.SUBRULE(this.biasClause)) };
				}
			},
			{ ALT: () => this.SUBRULE2(this.biasClause) }
		]);
		return { kind: 'divide', pieces, ...division };
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
						this.CONSUME(keyword.size);
						return { size: this.SUBRULE2(this.expression) };
					}
				}
			])
		)
	);

	private biasClause = this.RULE('biasClause', () =>
		this.clause('bias', () => {
			this.CONSUME(keyword.bias);
			const bias = this.SUBRULE(this.expression);
			this.CONSUME(keyword.toward);
			const toward = this.OR<string | CurveReference>([
				{ ALT: () => this.CONSUME(keyword.both).image },
				{ ALT: () => this.CONSUME(keyword.middle).image },
				{ ALT: () => this.SUBRULE(this.curveReference) }
			]);
			return { bias, toward };
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
					return { fill: 'structured', corners };
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
		const size = this.clause('size', () => this.SUBRULE(this.expression));
		const growth = this.OPTION(() =>
			this.clause('growth', () => {
				this.CONSUME(keyword.growth);
				return this.SUBRULE2(this.expression);
			})
		);
		return { kind: 'size', size, growth };
	});

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
