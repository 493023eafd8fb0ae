import { keyword } from '../tokens.ts';
import { CurveGrammar } from './curves.ts';

/** Statements that change or copy curves. */
export abstract class BuildingGrammar extends CurveGrammar {
	/** `fillet f = a with b near p radius 3`, `chamfer c = a with b lengths 2, 3` */
	protected cornerStatement = this.RULE('cornerStatement', () => {
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

	protected offsetStatement = this.RULE('offsetStatement', () => {
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

	protected trimStatement = this.RULE('trimStatement', () => {
		this.CONSUME(keyword.trim);
		const curve = this.SUBRULE(this.curveReference);
		this.CONSUME(keyword.to);
		const to = this.SUBRULE2(this.curveReference);
		this.CONSUME(keyword.keep);
		return { kind: 'trim', curve, to, keep: this.SUBRULE(this.expression) };
	});

	protected extendStatement = this.RULE('extendStatement', () => {
		this.CONSUME(keyword.extend);
		const curve = this.SUBRULE(this.curveReference);
		this.CONSUME(keyword.to);
		return { kind: 'extend', curve, to: this.SUBRULE2(this.curveReference) };
	});

	protected splitStatement = this.RULE('splitStatement', () => {
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

	protected joinStatement = this.RULE('joinStatement', () => {
		this.CONSUME(keyword.join);
		const name = this.SUBRULE(this.definedName);
		return { kind: 'join', name, curves: this.SUBRULE(this.curveReferences) };
	});

	protected mirrorStatement = this.RULE('mirrorStatement', () => {
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

	protected moveStatement = this.RULE('moveStatement', () => {
		this.CONSUME(keyword.move);
		const name = this.OPTION(() => this.SUBRULE(this.definedName));
		const curves = this.SUBRULE(this.curveReferences);
		this.CONSUME(keyword.by);
		return { kind: 'move', name, curves, by: this.SUBRULE(this.expression) };
	});

	protected turnOrScaleStatement = this.RULE('turnOrScaleStatement', () => {
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

	protected repeatStatement = this.RULE('repeatStatement', () => {
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
	protected cutStatement = this.RULE('cutStatement', () => {
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

	protected farStatement = this.RULE('farStatement', () => {
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
}
