/** Longest message, and longest quotation in one, in UTF-16 code units. */
const [longestMessage, longestQuotation] = [1000, 80];

/** A text without its middle where it is longer than `most`; never cut inside a surrogate pair. */
export function cutInTheMiddle(text: string, most: number): string {
	if (text.length <= most) return text;
	const half = Math.floor((most - 1) / 2);
	return `${text.slice(0, half).replace(/[\ud800-\udbff]$/, '')}…${text.slice(-half).replace(/^[\udc00-\udfff]/, '')}`;
}

/** A message whose quotations (between “ and ”) and which as a whole are short enough to be read, whatever a user typed. */
export function shortened(message: string): string {
	if (message.length <= longestQuotation) return message;
	const short = message.replace(/“([^”]*)”/g, (whole, quoted: string) =>
		quoted.length > longestQuotation ? `“${cutInTheMiddle(quoted, longestQuotation)}”` : whole
	);
	return cutInTheMiddle(short, longestMessage);
}
