import type { Model, WithLine } from '../model/model.ts';
import { word } from '../language/rules.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { Statement, Word } from '../language/syntax.ts';
import { keyword, Name, NumberLiteral } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

/** A delivery: a format with the options that it takes, and a file that it is made from, where it is. */
export interface DeliverStatement {
	format: string;
	options: Record<string, string>;
	/** A deck's template: the name of its file, and what it holds. */
	template?: { name: string; text: string };
}

export interface DeliverSyntax extends Statement {
	kind: 'deliver';
	format: Word;
	template?: Word;
	options: [Word, Word][];
}

export const delivery: StatementRecord<DeliverSyntax, DeliverStatement> = {
	kind: 'deliver',
	title: 'Delivery',
	words: ['deliver', 'from'],
	stage: 'deliveries',
	clauses: ['format', 'file', 'options'],
	form: 'deliver ${cgns}',
	doc: 'Says what is delivered, so that it can be repeated: a format, and its options, each a word and a value (`ids from 0`, `units m`). A deck names its template: `deliver deck "plain.liquid"`.',
	grammar(p) {
		p.CONSUME(keyword('deliver'));
		const format = p.clause('format', () => word(p.CONSUME(Name)));
		const template = p.OPTION(() => p.clause('file', () => p.SUBRULE(p.quoted)));
		const options = p.OPTION2(() =>
			p.clause('options', () => {
				const list: [Word, Word][] = [];
				p.AT_LEAST_ONE(() => {
					const name = word(p.CONSUME2(Name));
					p.OPTION3(() => p.CONSUME(keyword('from')));
					const value = p.OR([
						{ ALT: () => word(p.CONSUME(NumberLiteral)) },
						{ ALT: () => p.SUBRULE2(p.quoted) },
						{ ALT: () => word(p.CONSUME3(Name)) }
					]) as Word;
					list.push([name, value]);
				});
				return list;
			})
		);
		return { kind: 'deliver', format, ...(template ? { template } : {}), options: options ?? [] };
	},
	evaluate({ format, template, options }, context) {
		const twice = options.find(([name], k) => options.findIndex(([other]) => other.text === name.text) < k);
		if (twice) fail(twice[0], `the option “${twice[0].text}” is given twice`);
		return {
			format: format.text,
			options: Object.fromEntries(options.map(([name, value]) => [name.text, value.text])),
			...(template ? { template: { name: template.text, text: templateOf(template, context) } } : {})
		};
	},
	file: ({ template }) => template
};

/** The text of a template that stands beside the recipe. */
function templateOf(name: Word, { files }: EvaluationContext): string {
	const file = Object.hasOwn(files, name.text) ? files[name.text] : undefined;
	if (!file)
		fail(name, `no file “${name.text}” stands beside the recipe; a deck is made from a template there, like “plain.liquid”`);
	if (!('error' in file) || file.text === undefined)
		fail(name, `“${name.text}” is no template, but a file of coordinates or a drawing`);
	return file.text;
}

/** The deliveries of a recipe, in their order. */
export const deliveriesOf = (model: Model): WithLine<DeliverStatement>[] => stated(model, delivery);
