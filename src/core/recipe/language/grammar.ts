import {
	EmbeddedActionsParser,
	type IParserErrorMessageProvider,
	type IToken,
	type ParserMethod,
	type TokenType
} from 'chevrotain';
import { functionNames } from './functions.ts';
import { word, type NamedRule, type Rules } from './rules.ts';
import type { StatementRecord } from './statement.ts';
import type { Clause, CurveReference, Expression, Statement, Word } from './syntax.ts';
import {
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
	Quoted,
	Times,
	Unit
} from './tokens.ts';

/** What is wrong is said in `parse.ts` and `mending.ts`: the parser only says where. Its own sentences take longer than the reading. */
const silent: IParserErrorMessageProvider = {
	buildMismatchTokenMessage: () => '',
	buildNotAllInputParsedMessage: () => '',
	buildNoViableAltMessage: () => '',
	buildEarlyExitMessage: () => ''
};

/** The words of the rules that all statements share. */
export const sharedWords: readonly string[] = ['guide', 'to', 'turned', 'scaled', 'moved'];

/**
 * The grammar of one statement: the rules of all statements, put together from their records, and what they share —
 * names, references, expressions, and clauses with their places. `parse.ts` cuts a recipe into statements and hands each to
 * `statement`; completion asks the same rules what may stand next.
 */
export class StatementParser extends EmbeddedActionsParser {
	private clauses: Clause[] = [];
	private readonly owned = new Map<string, ParserMethod<[], unknown>>();

	/** @param isChecked whether the rules are looked through for what could never be read, or in two ways; it throws where they are wrong */
	constructor(tokens: TokenType[], records: readonly StatementRecord[], isChecked: boolean) {
		super(tokens, { maxLookahead: 2, recoveryEnabled: false, skipValidations: !isChecked, errorMessageProvider: silent });
		// The methods of a parser are not public; a statement's grammar is a part of it that stands in another file.
		const rules = this as unknown as Rules;
		for (const rule of new Set(records.flatMap((record) => record.rules ?? [])))
			this.owned.set(
				rule.name,
				this.RULE(rule.name, () => rule.parse(rules))
			);
		const starts = records.map((record) => ({
			record,
			rule: this.RULE(`${record.kind}Statement`, () => record.grammar(rules))
		}));
		this.statement = this.RULE('statement', (): Statement => {
			this.ACTION(() => (this.clauses = []));
			const clauses = this.clauses;
			const isGuide = this.OPTION(() => this.CONSUME(keyword('guide')) && (true as const));
			const alternatives = starts.map(({ rule }, k) => ({ ALT: () => this.subrule(k, rule) }));
			const statement = this.OR<Omit<Statement, 'clauses'>>(alternatives);
			return { ...statement, clauses, ...(isGuide ? { isGuide } : {}) } as Statement;
		});
		this.performSelfAnalysis();
	}

	/** Any statement; the tokens of one logical line are the whole input. */
	readonly statement: ParserMethod<[], Statement>;

	ruleOf<T>(rule: NamedRule<T>): ParserMethod<[], T> {
		return this.owned.get(rule.name) as ParserMethod<[], T>;
	}

	/** Runs `parse` and notes what it consumed as a clause of the statement. */
	protected clause<T>(name: string, parse: () => T): T {
		const from = this.LA(1).startOffset;
		const result = parse();
		this.ACTION(() => this.clauses.push({ name, from, to: this.lastEnd() }));
		return result;
	}

	/** Runs `parse` and gives what it consumed as well. */
	protected spanned<T>(parse: () => T): { value: T; from: number; to: number; source: string } {
		const from = this.LA(1).startOffset;
		const value = parse();
		let source = '';
		let to = from;
		this.ACTION(() => {
			to = this.lastEnd();
			let end = from;
			for (const { startOffset, image } of this.input) {
				if (startOffset < from || startOffset >= to) continue;
				// One blank stands for any; a comment inside is left out.
				source += (startOffset > end ? ' ' : '') + image;
				end = startOffset + image.length;
			}
		});
		return { value, from, to, source };
	}

	protected lastEnd(): number {
		const last = this.LA(0);
		return last.startOffset + last.image.length;
	}

	/** `name =` */
	protected definedName = this.RULE('definedName', () => {
		const name = this.clause('name', () => word(this.CONSUME(Name)));
		this.CONSUME(Equals);
		return name;
	});

	/** The name of a region, in a placed part behind the name of the placement: `p1.body`. */
	protected dottedName = this.RULE('dottedName', (): Word => {
		const from = this.LA(1).startOffset;
		let text = this.CONSUME(Name).image;
		this.MANY(() => {
			this.CONSUME(Dot);
			text += '.' + this.CONSUME2(Name).image;
		});
		return { text, from, to: this.lastEnd() };
	});

	protected names = this.RULE('names', () => {
		const list = [this.SUBRULE(this.dottedName)];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(this.SUBRULE2(this.dottedName));
		});
		return list;
	});

	protected curveReferences = this.RULE('curveReferences', () => {
		const list = [this.SUBRULE(this.curveReference)];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(this.SUBRULE2(this.curveReference));
		});
		return list;
	});

	protected curveReference = this.RULE('curveReference', (): CurveReference => {
		const from = this.LA(1).startOffset;
		let name = this.CONSUME(Name).image;
		this.MANY(() => {
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

	protected expressions = this.RULE('expressions', () => {
		const list = [this.SUBRULE(this.expression)];
		this.MANY(() => {
			this.CONSUME(Comma);
			list.push(this.SUBRULE2(this.expression));
		});
		return list;
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

	protected term = this.RULE('term', (): Expression => {
		let left = this.SUBRULE(this.factor);
		this.MANY(() => {
			const operator = this.OR([{ ALT: () => this.CONSUME(Times) }, { ALT: () => this.CONSUME(Divided) }]);
			left = binary(operator, left, this.SUBRULE2(this.factor));
		});
		return left;
	});

	protected factor = this.RULE('factor', (): Expression =>
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

	protected power = this.RULE('power', (): Expression => {
		let left = this.SUBRULE(this.primary);
		this.OPTION(() => {
			const operator = this.CONSUME(Power);
			left = binary(operator, left, this.SUBRULE(this.factor));
		});
		return left;
	});

	protected primary = this.RULE('primary', (): Expression => {
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
					const unit = this.OPTION3({ GATE: () => y === undefined, DEF: () => this.CONSUME2(Unit) });
					if (unit) {
						// A unit after a bracket is a factor, as after a number.
						const one = { kind: 'number', value: 1, unit: unit.image, from: unit.startOffset, to: this.lastEnd() } as const;
						return { kind: 'binary', operator: '*', left: x, right: one, from, to: this.lastEnd() };
					}
					if (y === undefined) return { ...x, from, to: this.lastEnd() };
					return { kind: 'pair', x, y, from, to: this.lastEnd() };
				}
			},
			{
				ALT: () => {
					const name = word(this.CONSUME(Name));
					// What is no function is no call, so that a word that does not belong before a place is found.
					const isFunction = () => functionNames.includes(this.LA(0).image);
					const more = this.OPTION4(() =>
						this.OR2<{ names: string[] } | { list: Expression[] }>([
							{
								ALT: () => {
									// The last name is the member: `p.x`, and `p1.box.left` of a placed part.
									const names: string[] = [];
									this.AT_LEAST_ONE(() => {
										this.CONSUME(Dot);
										names.push(this.CONSUME2(Name).image);
									});
									return { names };
								}
							},
							{
								GATE: isFunction,
								ALT: () => {
									this.CONSUME2(OpenRound);
									const list: Expression[] = [];
									this.MANY_SEP({ SEP: Comma, DEF: () => list.push(this.SUBRULE3(this.expression)) });
									this.CONSUME2(CloseRound);
									return { list };
								}
							}
						])
					);
					const span = { from, to: this.lastEnd() };
					if (!more) return { kind: 'name', name: name.text, ...span };
					return 'names' in more
						? { kind: 'member', object: [name.text, ...more.names.slice(0, -1)].join('.'), member: more.names.at(-1)!, ...span }
						: { kind: 'call', callee: name, arguments: more.list, ...span };
				}
			}
		]);
	});

	protected quoted = this.RULE('quoted', (): Word => {
		const token = this.CONSUME(Quoted);
		return { text: token.image.slice(1, -1), from: token.startOffset, to: token.startOffset + token.image.length };
	});

	protected pointChain = this.RULE('pointChain', () => {
		const points = [this.SUBRULE(this.expression)];
		this.AT_LEAST_ONE(() => {
			this.CONSUME(keyword('to'));
			points.push(this.SUBRULE2(this.expression));
		});
		return points;
	});

	protected turnClause = this.RULE('turnClause', () => {
		this.CONSUME(keyword('turned'));
		return this.SUBRULE(this.expression);
	});

	protected scaleClause = this.RULE('scaleClause', () => {
		this.CONSUME(keyword('scaled'));
		return this.SUBRULE(this.expression);
	});

	protected moveClause = this.RULE('moveClause', () => {
		this.CONSUME(keyword('moved'));
		return this.SUBRULE(this.expression);
	});
}

function binary(operator: IToken, left: Expression, right: Expression): Expression {
	const sign = operator?.image as '+';
	return { kind: 'binary', operator: sign, left, right, from: left?.from, to: right?.to };
}
