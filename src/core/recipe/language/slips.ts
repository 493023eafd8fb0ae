/**
 * A way in which a statement is often written wrongly, or was written earlier: what it looks like, what is said of it, and what is
 * meant. Slips are looked for only where a statement cannot be read.
 */
export interface Slip {
	/** Matches the statement; its group `at`, or all of it, is the place that is meant. */
	pattern: RegExp;
	says: string | ((match: RegExpExecArray) => string);
	/** What stands in the place of the match; without it there is no one guess. */
	mend?: string | ((match: RegExpExecArray) => string);
}

const number = '-?(?:\\d+\\.?\\d*|\\.\\d+)(?:[eE][+-]?\\d+)?';
const quoted = '"[^"\\n]*"';
const name = '[\\p{L}_][\\p{L}\\p{Nd}_]*';
/** Names of curves, with sides and pieces, in a list. */
const curves = `${name}(?:\\.${name})?(?:\\[\\d+\\])?(?:\\s*,\\s*${name}(?:\\.${name})?(?:\\[\\d+\\])?)*`;

/** Words that people use for units, and the unit that is meant. */
export const unitWords: Readonly<Record<string, string>> = {
	inch: 'in',
	inches: 'in',
	degree: 'deg',
	degrees: 'deg',
	grad: 'deg',
	radian: 'rad',
	radians: 'rad',
	millimeter: 'mm',
	milimeter: 'mm',
	milimeters: 'mm',
	millimeters: 'mm',
	millimetre: 'mm',
	millimetres: 'mm',
	centimeter: 'cm',
	centimeters: 'cm',
	centimetre: 'cm',
	centimetres: 'cm',
	meter: 'm',
	meters: 'm',
	metre: 'm',
	metres: 'm',
	micron: 'um',
	microns: 'um',
	micrometer: 'um',
	micrometre: 'um',
	µm: 'um',
	μm: 'um',
	foot: 'ft',
	feet: 'ft',
	kilometer: 'km',
	kilometre: 'km'
};

/** Names that other notations have for functions. */
const functionWords: Record<string, string> = {
	ln: 'log',
	arcsin: 'asin',
	arccos: 'acos',
	arctan: 'atan',
	arctan2: 'atan2',
	floorf: 'floor',
	ceiling: 'ceil',
	fabs: 'abs',
	maximum: 'max',
	minimum: 'min',
	dist: 'distance',
	center: 'centre'
};

/** A length unit by a word that people use for it. */
const unitMeant = (word: string): string | undefined =>
	Object.hasOwn(unitWords, word.toLowerCase()) ? unitWords[word.toLowerCase()] : undefined;

const re = (source: string, flags = 'du') => new RegExp(source, flags);
const group = (match: RegExpExecArray, key: string): string => match.groups?.[key] ?? '';
/** Numbers to what a recipe writes: at most twelve digits. */
const short = (value: number) => String(Number(value.toPrecision(12)));
const withDots = (text: string) => text.replace(/(\d),(\d)/g, '$1.$2');

/** Forms of earlier states of the language: `tessellon format` writes the present ones. */
const earlier: readonly Slip[] = [
	{
		pattern: re(`^(?<what>turn|scale)(?<rest>\\s+${curves}\\b.*?)\\s(?<at>around)\\s`),
		says: 'a turn and a scale are “about” a point; “around” is for centres of shapes',
		mend: (m) => `${group(m, 'what')}${group(m, 'rest')} about `
	},
	{
		pattern: re(`^(?<head>repeat\\s.*?)\\s(?<at>around)\\s`),
		says: 'copies are turned “about” a point; “around” is for centres of shapes',
		mend: (m) => `${group(m, 'head')} about `
	},
	{
		pattern: re(`^(?<at>move)\\s+(?<name>${name})\\s*=\\s*(?<curves>${curves})\\s+by\\s+`),
		says: 'a copy has a statement of its own; “move” changes curves where they stand',
		mend: (m) => `copy ${group(m, 'name')} = ${group(m, 'curves')} moved `
	},
	{
		pattern: re(
			`^(?<at>(?:turn|scale))\\s+(?<name>${name})\\s*=\\s*(?<curves>${curves})\\s+by\\s+(?<by>.*?)(?:\\s+(?:around|about)\\s+(?<about>.*))?$`
		),
		says: 'a copy has a statement of its own; “turn” and “scale” change curves where they stand',
		mend: (m) =>
			`copy ${group(m, 'name')} = ${group(m, 'curves')} ${m[0].startsWith('turn') ? 'turned' : 'scaled'} ${group(m, 'by')}${m.groups?.about ? ` about ${m.groups.about}` : ''}`
	},
	{
		pattern: re(
			`^(?<at>(?:turn|scale))\\s+(?<name>${name})\\s*=\\s*(?<curves>${curves})\\s+(?:around|about)\\s+(?<about>.*?)\\s+by\\s+(?<by>.*)$`
		),
		says: 'a copy has a statement of its own; “turn” and “scale” change curves where they stand',
		mend: (m) =>
			`copy ${group(m, 'name')} = ${group(m, 'curves')} ${m[0].startsWith('turn') ? 'turned' : 'scaled'} ${group(m, 'by')} about ${group(m, 'about')}`
	},
	{
		pattern: re(`^(?<at>mirror)\\s+(?<name>${name})\\s*=\\s*(?<curves>${curves})\\s+(?:across|about)\\s+`),
		says: 'a mirrored copy is written “copy … mirrored across …”; “mirror” changes curves where they stand',
		mend: (m) => `copy ${group(m, 'name')} = ${group(m, 'curves')} mirrored across `
	},
	{
		pattern: re(`^(?<head>(?:spline|polyline)\\s+${name}\\s*=\\s*)(?<at>through)\\s+(?<file>${quoted})(?<rest>.*)$`, 'dsu'),
		says: 'points of a file are taken “from” it',
		mend: (m) =>
			`${group(m, 'head')}from ${group(m, 'file')}${group(m, 'rest')
				.replace(/\sfrom(?=\s)/, ' start')
				.replace(/\sto(?=\s)/, ' end')}`
	},
	{
		pattern: re(`^(?<head>(?:spline|polyline)\\s+${name}\\s*=\\s*)(?<at>through)\\s+(?=[^"])`),
		says: 'points are joined by “to”, without “through”',
		mend: (m) => group(m, 'head')
	},
	{
		pattern: re(`^(?<head>(?:spline|polyline)\\s.*\\scorners)\\s+(?!above\\b)(?<at>)`, 'dsu'),
		says: 'corners are where a line turns by more than an angle: “corners above 60 deg”',
		mend: (m) => `${group(m, 'head')} above `
	},
	{
		pattern: re(`^(?<head>fill\\s.*\\btriangles.*\\s)(?<at>right)\\b`),
		says: 'triangles with a right angle are quadrilaterals “halved”; “right” is a side',
		mend: (m) => `${group(m, 'head')}halved`
	},
	{
		pattern: re(`^(?<head>size\\s.*\\s(?:near|inside)\\s+)(?<at>line|polygon)\\s+(?=[\\p{L}_(])`),
		says: 'a zone of points that are joined by “to” is a “polyline”',
		mend: (m) => `${group(m, 'head')}polyline `
	},
	{
		pattern: re(`^(?<head>(?:drawing|boundary)\\b.*\\s)(?<at>layer)\\s+(?=")`),
		says: 'a drawing is taken in part by “only” and the names of its layers',
		mend: (m) => `${group(m, 'head')}only `
	},
	{
		pattern: re(`^(?<head>.*?[\\s,])(?<at>of\\s+layer)\\s+`, 'dsu'),
		says: 'the curves of a layer are “all of” it',
		mend: (m) => `${group(m, 'head')}all of `
	},
	{
		pattern: re(`^(?<head>solid\\s+slab\\s.*\\s)(?<at>layers)\\s+`),
		says: 'a slab is cut “into” layers',
		mend: (m) => `${group(m, 'head')}into `
	}
];

/** Signs of other notations. */
const signs: readonly Slip[] = [
	{ pattern: re(`^(?<at>//)\\s*`), says: 'a comment starts with “#”', mend: '# ' },
	{
		pattern: re(`(?<number>${number})\\s*(?<at>°)`, 'du'),
		says: 'degrees are written “deg”',
		mend: (m) => `${group(m, 'number')} deg`
	},
	{ pattern: re('\\s*(?<at>[×·])\\s*'), says: 'a product is written with “*”', mend: '*' },
	{ pattern: re('(?<at>²)'), says: 'a square is written “^2”', mend: '^2' },
	{ pattern: re('(?<at>³)'), says: 'a cube is written “^3”', mend: '^3' },
	{ pattern: re('(?<at>\\*\\*)'), says: 'a power is written “^”', mend: '^' },
	{
		pattern: re(`(?<at>√)\\s*\\(`),
		says: 'a square root is written “sqrt(…)”',
		mend: 'sqrt('
	},
	{
		pattern: re(`(?<at>√)\\s*(?<of>${number}|${name})`),
		says: 'a square root is written “sqrt(…)”',
		mend: (m) => `sqrt(${group(m, 'of')})`
	},
	{
		pattern: re(`growth\\s+(?<at>(?<percent>${number})\\s*%)`),
		says: 'a growth is a ratio: each cell over the one before',
		mend: (m) => `growth ${short(1 + Number(group(m, 'percent')) / 100)}`
	},
	{
		pattern: re(`(?<a>${number}|${name})\\s*(?<at>%)\\s*(?<b>${number}|${name})`),
		says: 'there is no sign for a remainder; “a - b*floor(a/b)” is one',
		mend: (m) => `${group(m, 'a')} - ${group(m, 'b')}*floor(${group(m, 'a')}/${group(m, 'b')})`
	},
	{
		pattern: re(`(?<at>(?<percent>${number})\\s*%)`),
		says: 'a share is a number between 0 and 1',
		mend: (m) => short(Number(group(m, 'percent')) / 100)
	},
	{
		pattern: re(`(?<low>${number}?)(?<at>\\.\\.)\\s*(?<high>-?\\d)`),
		says: 'from one number to another is written “to”',
		mend: (m) => `${group(m, 'low')} to ${group(m, 'high')}`
	},
	{
		pattern: re(`(?<at>\\(\\s*(?<x>-?\\d+,\\d+)\\s*;\\s*(?<y>-?\\d+(?:,\\d+)?)\\s*\\))`),
		says: 'numbers have a point and not a comma, and a comma parts x from y',
		mend: (m) => `(${withDots(group(m, 'x'))}, ${withDots(group(m, 'y'))})`
	},
	{
		pattern: re(`(?<at>\\(\\s*(?<x>-?\\d+(?:\\.\\d+)?)\\s*;\\s*(?<y>-?\\d+(?:\\.\\d+)?)\\s*\\))`),
		says: 'a comma parts x from y',
		mend: (m) => `(${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`(?<at>\\(\\s*(?<x>-?\\d+,\\d+)\\s*,\\s*(?<y>-?\\d+,\\d+)\\s*\\))`),
		says: 'numbers have a point and not a comma',
		mend: (m) => `(${withDots(group(m, 'x'))}, ${withDots(group(m, 'y'))})`
	},
	{
		pattern: re('(?<at>[“”„])(?<text>[^“”„"]*)[“”„]'),
		says: 'a text stands in straight double quotes',
		mend: (m) => `"${group(m, 'text')}"`
	},
	{ pattern: re("(?<at>')(?<text>[^']*)'"), says: 'a text stands in double quotes', mend: (m) => `"${group(m, 'text')}"` },
	{ pattern: re('\\s*(?<at>[;])\\s*$'), says: 'a statement ends with its line, without a sign', mend: '' },
	{
		pattern: re(`^(?<head>let\\s+${name}\\s*)(?<at>:=|==|:)\\s*`),
		says: 'a value stands after “=”',
		mend: (m) => `${group(m, 'head')}= `
	},
	{
		pattern: re(`^(?<name>${name})\\s*(?<at>:=)\\s*`),
		says: 'a parameter is defined by “let” and “=”',
		mend: (m) => `let ${group(m, 'name')} = `
	},
	{
		pattern: re(`^(?<head>(?:guide\\s+)?[a-z]+\\s+${name}\\s*)(?<at>:)\\s*`),
		says: 'what a name stands for follows “=”',
		mend: (m) => `${group(m, 'head')}= `
	},
	{
		pattern: re(`^(?<head>group\\s+${name}\\s*=\\s*[^:]*?)\\s*(?<at>:)\\s*(?<kind>${name})$`),
		says: 'the kind of a group stands after “as”',
		mend: (m) => `${group(m, 'head')} as ${group(m, 'kind')}`
	},
	{ pattern: re('(?<at>[–—−])'), says: 'a minus is written “-”', mend: '-' }
];

/** Words and shapes of other notations. */
const words: readonly Slip[] = [
	{
		pattern: re(`^let\\s+(?<name>${name})\\s*=\\s*(?<at>(?<value>-?\\d+,\\d+))$`),
		says: 'numbers have a point and not a comma',
		mend: (m) => `let ${group(m, 'name')} = ${withDots(group(m, 'value'))}`
	},
	{
		pattern: re(`\\b(?<at>(?<value>\\d+,\\d+))(?=\\s+(?:mm|cm|m|um|km|in|ft|deg|rad)\\b)`),
		says: 'numbers have a point and not a comma',
		mend: (m) => withDots(group(m, 'value'))
	},
	{
		pattern: re(`^(?<head>(?:guide\\s+)?[a-z]+\\s+)(?<at>(?<digits>\\d+)(?<name>${name}))(?=\\s*=)`),
		says: 'a name starts with a letter or “_”',
		mend: (m) => `${group(m, 'head')}${group(m, 'name')}${group(m, 'digits')}`
	},
	{
		pattern: re(`^(?<head>(?:guide\\s+)?[a-z]+\\s+)(?<at>${name}(?:[-.\\s]+${name})+)(?=\\s*=)`),
		says: 'a name has letters, digits and “_”, and no other signs',
		mend: (m) => `${group(m, 'head')}${group(m, 'at').replace(/[-.\s]+/g, '_')}`
	},
	{
		pattern: re(`^(?<at>line)(?<rest>\\s+${name}\\s*=\\s*\\S.*\\sto\\s.*\\sto\\s)`),
		says: 'a line has two ends; through more points it is a “polyline”',
		mend: (m) => `polyline${group(m, 'rest')}`
	},
	{
		pattern: re(`(?<at>\\(\\s*(?<x>${number})\\s*,\\s*(?<y>${number})\\s*,\\s*${number}\\s*\\))`),
		says: 'a place has two coordinates: “(x, y)”',
		mend: (m) => `(${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`^(?<head>point\\s+${name}\\s*=\\s*)(?<at>(?<x>${number})\\s+(?<y>${number}))$`),
		says: 'a place stands in brackets: “(x, y)”',
		mend: (m) => `${group(m, 'head')}(${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`^(?<head>divide\\s+${curves}\\s*)(?<at>to|=|:)\\s*(?=\\d)`),
		says: 'what is divided is divided “into” a count',
		mend: (m) => `${group(m, 'head').trimEnd()} into `
	},
	{
		pattern: re(`^(?<head>size\\s+\\S+\\s+)(?<at>close\\s+to|next\\s+to|beside|along|on)\\s+`),
		says: 'a size holds “near” curves',
		mend: (m) => `${group(m, 'head')}near `
	},
	{
		pattern: re(`^(?<head>group\\s+${name}\\s*=\\s*)(?<at>regions)\\s+`),
		says: 'a group of regions is written “region a, b”',
		mend: (m) => `${group(m, 'head')}region `
	},
	{
		pattern: re(`(?<number>${number})\\s*(?<at>${Object.keys(unitWords).join('|')})(?![\\p{L}\\p{N}_])`, 'diu'),
		says: (m) => `the unit is written “${unitMeant(group(m, 'at'))}”`,
		mend: (m) => `${group(m, 'number')} ${unitMeant(group(m, 'at'))}`
	},
	{
		pattern: re(
			`(?<of>(?:[\\p{L}\\p{N}_.]|\\([^()]*\\))+(?:[*/+^-](?:[\\p{L}\\p{N}_.]|\\([^()]*\\))+)+)\\s+(?<at>deg|rad|mm|cm|um|km|ft|m)(?![\\p{L}\\p{N}_])`
		),
		says: (m) => `a unit follows a number or a bracket: “(${group(m, 'of')}) ${group(m, 'at')}”`,
		mend: (m) => `(${group(m, 'of')}) ${group(m, 'at')}`
	},
	{
		pattern: re(`(?<=[=(,+*/^-]\\s*|\\s)(?<of>${name})\\s+(?<at>deg|rad|mm|cm|um|km|ft)(?![\\p{L}\\p{N}_])`),
		says: (m) => `a unit follows a number or a bracket: “(${group(m, 'of')}) ${group(m, 'at')}”`,
		mend: (m) => `(${group(m, 'of')}) ${group(m, 'at')}`
	},
	{
		pattern: re(
			`\\b(?<at>(?<call>sin|cos|tan|asin|acos|atan|sqrt|abs|exp|log|floor|ceil|round)\\s+(?<of>${number}(?:\\s*(?:deg|rad))?|${name}))`
		),
		says: (m) => `a function takes its value in brackets: “${group(m, 'call')}(${group(m, 'of')})”`,
		mend: (m) => `${group(m, 'call')}(${group(m, 'of')})`
	},
	{
		pattern: re(`\\b(?<at>${Object.keys(functionWords).join('|')})\\s*(?=\\()`),
		says: (m) => `this function is written “${functionWords[group(m, 'at')]}”`,
		mend: (m) => functionWords[group(m, 'at')]!
	},
	{
		pattern: re(`^let\\s+${name}\\s*=\\s*(?<at>"[^"]*")$`),
		says: 'a parameter is a number; texts stand only in a title and in names of files'
	},
	{
		pattern: re(`^arc\\s+${name}\\s*=\\s*\\S.*\\sto\\s+(?:\\([^()]*\\)|${name})(?<at>)$`),
		says: 'an arc says how it is bent: “around” its centre, “through” a point, by a “radius”, or “tangent” to a curve that it goes on from'
	},
	{
		pattern: re(`^(?<head>group\\s.*\\s)(?<at>(?:kind|type|is|with\\s+kind))\\s+(?<kind>${name})$`),
		says: 'the kind of a group stands after “as”',
		mend: (m) => `${group(m, 'head')}as ${group(m, 'kind')}`
	},
	{
		pattern: re(`^title\\s+(?<at>(?<text>[^"\\n]+))$`),
		says: 'a title stands in double quotes',
		mend: (m) => `title "${group(m, 'text')}"`
	},
	{
		pattern: re(`^frame\\s+(?<at>2d|2D|plane|flat)\\s*$`),
		says: 'a recipe in the plane has the frame “planar”',
		mend: 'frame planar'
	},
	{
		pattern: re(`^frame\\s+(?<at>axisymmetric)\\s*$`),
		says: 'an axisymmetric frame says its axis: “about x” or “about y”',
		mend: 'frame axisymmetric about x'
	},
	{
		pattern: re(`^(?<head>circle\\s.*\\s)(?<at>diameter)\\s+(?<d>\\S+)$`),
		says: 'a circle has a radius',
		mend: (m) =>
			`${group(m, 'head')}radius ${Number.isFinite(Number(group(m, 'd'))) ? short(Number(group(m, 'd')) / 2) : `${group(m, 'd')}/2`}`
	},
	{
		pattern: re(`^(?<head>line\\s+${name}\\s*=\\s*)(?<p>\\([^()]*\\))\\s*(?<at>-|->|→)\\s*(?<q>\\([^()]*\\))$`),
		says: 'points are joined by “to”',
		mend: (m) => `${group(m, 'head')}${group(m, 'p')} to ${group(m, 'q')}`
	},
	{
		pattern: re(
			`^(?<head>(?:point|line|polyline|spline|rectangle|bezier)\\s+${name}\\s*=\\s*)(?<at>${number}\\s*,\\s*${number}(?:\\s+to\\s+${number}\\s*,\\s*${number})*)$`
		),
		says: 'a place stands in brackets: “(x, y)”',
		mend: (m) =>
			group(m, 'head') +
			group(m, 'at')
				.split(/\s+to\s+/)
				.map((p) => `(${p.replace(/\s*,\s*/, ', ')})`)
				.join(' to ')
	},
	{
		pattern: re(
			`^(?<head>(?:polyline|spline|bezier|bspline)\\s+${name}\\s*=\\s*)(?:through\\s+)?(?<at>(?:\\([^()]*\\)|${name})(?:\\s*,\\s*(?:\\([^()]*\\)|${name}))+)`
		),
		says: 'points are joined by “to”',
		mend: (m) => group(m, 'head') + group(m, 'at').replace(/(\)|[\p{L}\p{N}_])\s*,\s*(?=\(|[\p{L}_])/gu, '$1 to ')
	},
	{
		pattern: re(`(?<at>\\[\\s*(?<x>${number})\\s*,\\s*(?<y>${number})\\s*\\])`),
		says: 'a place stands in round brackets: “(x, y)”',
		mend: (m) => `(${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`\\b(?<word>moved|by|at|around|to)\\s+(?<at>(?<x>${number})\\s*,\\s*(?<y>${number}))(?![\\d.]|\\s*,)`),
		says: 'a place stands in brackets: “(x, y)”',
		mend: (m) => `${group(m, 'word')} (${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`(?<at>\\(\\s*(?<x>${number})\\s+(?<y>${number})\\s*\\))`),
		says: 'a comma parts x from y',
		mend: (m) => `(${group(m, 'x')}, ${group(m, 'y')})`
	},
	{
		pattern: re(`^(?<head>(?:polyline|spline)\\s+${name}\\s*=\\s*(?:from|through)\\s+)(?<at>[\\w.-]+\\.\\w+)`),
		says: 'the name of a file stands in double quotes',
		mend: (m) => `${group(m, 'head')}"${group(m, 'at')}"`
	},
	{
		pattern: re(`^deliver\\s+(?<at>"(?<format>\\w+)")`),
		says: 'a format is a word without quotes',
		mend: (m) => `deliver ${group(m, 'format')}`
	},
	{
		pattern: re('\\bas\\s+(?<at>no[ _-]?slip[ _-]?wall)\\b', 'diu'),
		says: 'this kind is written “no_slip_wall”',
		mend: 'as no_slip_wall'
	},
	{
		pattern: re(`^order\\s+(?<at>two|second|quadratic)\\b`),
		says: 'elements of the second order are “order 2”',
		mend: 'order 2'
	},
	{
		pattern: re(`^region\\s+(?<name>${name})\\s*(?:=\\s*)?(?<at>in|inside|within|of|by|from)\\s+(?<of>${curves})$`),
		says: 'a region is “bounded by” curves, or stands “at” a place',
		mend: (m) => `region ${group(m, 'name')} bounded by ${group(m, 'of')}`
	},
	{
		pattern: re(`^region\\s+(?<name>${name})\\s*(?<at>=)\\s*(?<of>${curves})$`),
		says: 'a region is “bounded by” curves, or stands “at” a place',
		mend: (m) => `region ${group(m, 'name')} bounded by ${group(m, 'of')}`
	},
	{
		pattern: re(`^size\\s+(?<size>${number})\\s+(?<at>in|of|for)\\s+(?<region>${name})$`),
		says: 'the size of a region stands with its fill: “fill r triangles size 2”',
		mend: (m) => `fill ${group(m, 'region')} triangles size ${group(m, 'size')}`
	},
	{
		pattern: re(`^(?<head>divide\\s.*\\b(?:bias)\\s+[^\\s]+)(?<at>)$`),
		says: 'a bias says toward which end cells become smaller: “toward” a point, a curve, “middle” or “both”',
		mend: (m) => `${group(m, 'head')} toward both`
	},
	{
		pattern: re(`^(?<head>divide\\s.*\\b(?:first|last|growth)\\s+[^\\s]+)(?<at>)$`),
		says: 'a spacing says from which end it is counted: “at” a point, a curve, or “both”',
		mend: (m) => `${group(m, 'head')} at both`
	},
	{
		pattern: re(
			`^(?<head>group\\s+${name}\\s*=\\s*)(?<first>[^=]*?)\\s+as\\s+(?<kind>${name})(?<at>\\s*,\\s*)(?<second>.*?)\\s+as\\s+\\k<kind>$`
		),
		says: 'a group has one kind, behind all its pieces',
		mend: (m) => `${group(m, 'head')}${group(m, 'first')}, ${group(m, 'second')} as ${group(m, 'kind')}`
	},
	{
		pattern: re(`^(?<head>group\\s+${name}\\s*=.*?\\s+as\\s+${name})(?<at>\\s*,)\\s*.*\\bas\\b`),
		says: 'a group has one kind, behind all its pieces; pieces of another kind are a group of their own'
	},
	{
		pattern: re(`^(?<head>solid\\s+)(?<at>extrude|extruded|extrusion|layer|plate|block)\\b`),
		says: 'a solid is a “slab”, a “wedge”, or “revolve” makes a body of revolution',
		mend: (m) => `${group(m, 'head')}slab`
	},
	{
		pattern: re(
			`^(?<head>study\\s.*\\sfrom\\s+(?<low>${number})\\s+to\\s+(?<high>${number}))\\s+(?<at>step|by)\\s+(?<step>${number})$`
		),
		says: 'a study says how many cases there are: “in 5”',
		mend: (m) =>
			`${group(m, 'head')} in ${Math.max(2, Math.round((Number(group(m, 'high')) - Number(group(m, 'low'))) / Number(group(m, 'step'))) + 1)}`
	},
	{
		pattern: re(
			`^(?<head>periodic\\s+${name}(?:\\.${name})?(?:\\[\\d+\\])?)(?<at>\\s*(?:,|and|to)\\s*)(?<other>${name}(?:\\.${name})?(?:\\[\\d+\\])?)$`
		),
		says: 'one side is periodic “with” the other',
		mend: (m) => `${group(m, 'head')} with ${group(m, 'other')}`
	},
	{
		pattern: re(`^(?<at>include|import|use|load|insert)\\b`),
		says: 'this starts no statement: a drawing is read by “drawing name = from "part.dxf"”, points by “polyline name = from "wall.csv"”, and a part by “part name from "part.tessellon"”'
	},
	{
		pattern: re(`^(?<at>if|else|for|while|loop|end if|foreach)\\b`),
		says: 'a recipe has no conditions and no loops: “repeat” makes copies, and “place … count n”, where n may be 0, what may be left out'
	},
	{
		pattern: re(`^(?<at>boundary)\\s+(?<name>${name})\\s*=\\s*(?!from\\b)(?<of>${curves})$`),
		says: '“boundary” takes the outline of a mesh from a file; pieces that a solver knows by a name are a “group”',
		mend: (m) => `group ${group(m, 'name')} = ${group(m, 'of')} as wall`
	},
	{
		pattern: re(`^(?<at>(?:param|parameter|var|const|set|define)\\s+)(?<rest>${name}\\s*=)`),
		says: 'a parameter is defined by “let”',
		mend: (m) => `let ${group(m, 'rest')}`
	},
	{
		pattern: re(
			`^(?!(?:recipe|title|units|frame|order|size|fill|divide|layers|deliver|solid)\\s*=)(?<at>(?<name>${name})\\s*=\\s*)(?<value>[^=].*)$`,
			'dsu'
		),
		says: 'a parameter is defined by “let”',
		mend: (m) => `let ${group(m, 'name')} = ${group(m, 'value')}`
	},
	{
		pattern: re(
			`(?<number>(?<![\\p{L}\\p{N}_.])(?:\\d+\\.?\\d*|\\.\\d+))(?<at>)(?<name>(?!(?:mm|cm|um|km|ft|deg|rad|in|m)(?![\\p{L}\\p{N}_])|e\\d)${name})`
		),
		says: (m) => `a product is written with “*”: “${group(m, 'number')}*${group(m, 'name')}”`,
		mend: (m) => `${group(m, 'number')}*${group(m, 'name')}`
	}
];

/** What is looked for when nothing else is found. */
const last: readonly Slip[] = [
	{
		pattern: re(`(?<![\\d.,\\p{L}_])(?<at>(?<value>\\d+,\\d+))(?![\\d,.])`),
		says: 'numbers have a point and not a comma',
		mend: (m) => withDots(group(m, 'value'))
	}
];

/** All slips, in the order in which they are looked for. */
export const slips: readonly Slip[] = [...earlier, ...signs, ...words, ...last];

/** A slip in a statement: what is said of it, where, and the statement as it is meant. */
export interface FoundSlip {
	message: string;
	from: number;
	to: number;
	mended?: string;
}

/** The slips that a statement may have, in the order in which they are looked for. */
export function* slipsIn(source: string, list: readonly Slip[] = slips): Generator<FoundSlip> {
	for (const { pattern, says, mend } of list) {
		const match = pattern.exec(source);
		if (!match) continue;
		const [from, to] = match.indices?.groups?.at ?? [match.index, match.index + match[0].length];
		const instead = typeof mend === 'function' ? mend(match) : mend;
		yield {
			message: typeof says === 'function' ? says(match) : says,
			from,
			to,
			...(instead === undefined
				? {}
				: { mended: source.slice(0, match.index) + instead + source.slice(match.index + match[0].length) })
		};
	}
}

/** A statement in the present form of the language, where it is in an earlier one; itself otherwise. */
export function inPresentForm(source: string): string {
	let present = source;
	// Several forms may have changed in one statement.
	for (let k = 0; k < earlier.length; k++) {
		const [found] = slipsIn(present, earlier);
		if (found?.mended === undefined || found.mended === present) return present;
		present = found.mended;
	}
	return present;
}
