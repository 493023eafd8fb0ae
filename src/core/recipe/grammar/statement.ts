import type { Statement } from '../syntax.ts';
import { allTokens, keyword, Name, NumberLiteral, Text } from '../tokens.ts';
import { word } from './base.ts';
import { MeshingGrammar } from './meshing.ts';

/**
 * The grammar of one statement. `parse.ts` cuts a recipe into statements and hands each to
 * `statement`; completion asks the same rules what may stand next.
 */
export class StatementParser extends MeshingGrammar {
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

	protected recipeStatement = this.RULE('recipeStatement', () => {
		this.CONSUME(keyword.recipe);
		return { kind: 'recipe', version: Number(this.CONSUME(NumberLiteral).image) };
	});

	protected titleStatement = this.RULE('titleStatement', () => {
		this.CONSUME(keyword.title);
		const title = this.clause('title', () => this.CONSUME(Text));
		return { kind: 'title', title: title.image.slice(1, -1) };
	});

	protected unitsStatement = this.RULE('unitsStatement', () => {
		this.CONSUME(keyword.units);
		return { kind: 'units', unit: this.clause('unit', () => word(this.CONSUME(Name))) };
	});

	protected frameStatement = this.RULE('frameStatement', () => {
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

	protected letStatement = this.RULE('letStatement', () => {
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
}
