import type { CurveReference, Expression, SpacingWord } from '../syntax.ts';
import { Comma, keyword, Name } from '../tokens.ts';
import { word } from './base.ts';
import { BuildingGrammar } from './building.ts';

/** Statements about regions, divisions, fills, sizes and groups. */
export abstract class MeshingGrammar extends BuildingGrammar {
	protected regionStatement = this.RULE('regionStatement', () => {
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

	protected divideStatement = this.RULE('divideStatement', () => {
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

	protected countClause = this.RULE('countClause', () =>
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

	protected spacingClause = this.RULE('spacingClause', () =>
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
								{ ALT: () => this.CONSUME(keyword.growth) },
								{ ALT: () => this.CONSUME(keyword.largest) }
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

	protected spacingEnd = this.RULE('spacingEnd', () =>
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

	protected fillStatement = this.RULE('fillStatement', () => {
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
					const seam = this.OPTION9(() =>
						this.clause('seam', () => {
							this.CONSUME(keyword.seam);
							const outside = this.SUBRULE6(this.expression);
							this.CONSUME(keyword.to);
							return [outside, this.SUBRULE7(this.expression)];
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
						...(seam ? { seam } : {}),
						...across,
						...(spacing ? { spacing } : {}),
						...(smooth ? { smooth: true, ...smooth } : {})
					};
				}
			},
			{
				ALT: () => {
					this.clause('fill', () => this.CONSUME(keyword.triangles));
					const pattern = this.OPTION7(() =>
						this.clause('pattern', () =>
							this.OR5([
								{ ALT: () => ({ right: !!this.CONSUME(keyword.right) }) },
								{ ALT: () => ({ even: !!this.CONSUME(keyword.even) }) }
							])
						)
					);
					const size = this.OPTION2(() =>
						this.clause('size', () => {
							this.CONSUME(keyword.size);
							return this.SUBRULE3(this.expression);
						})
					);
					return { fill: 'triangles', size, ...pattern };
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

	protected sizeStatement = this.RULE('sizeStatement', () => {
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
	protected zone = this.RULE('zone', () =>
		this.OR([
			{
				ALT: () => {
					this.CONSUME(keyword.near);
					const place = this.OR3([
						{
							ALT: () => {
								this.CONSUME(keyword.line);
								return { kind: 'line', points: this.SUBRULE(this.pointChain) };
							}
						},
						{ ALT: () => ({ kind: 'near', references: this.SUBRULE(this.curveReferences) }) }
					]);
					const within = this.OPTION(() => {
						this.CONSUME(keyword.within);
						return this.SUBRULE(this.expression);
					});
					return { ...place, within };
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
							{
								ALT: () => {
									this.CONSUME(keyword.polygon);
									return { kind: 'corners', corners: this.SUBRULE2(this.pointChain) };
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

	protected groupStatement = this.RULE('groupStatement', () => {
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
}
