/**
 * The number that each object of a list has in another one, −1 for what is not there. Where most stand there in the same
 * order, as in a list of before an edit, that is found without a table.
 */
export function numbersIn<T extends object>(list: readonly T[], other: readonly T[]): Int32Array {
	const numbers = new Int32Array(list.length).fill(-1);
	let table: Map<T, number> | undefined;
	let shift = 0;
	for (let k = 0; k < list.length; k++) {
		if (other[k + shift] === list[k]) {
			numbers[k] = k + shift;
			continue;
		}
		table ??= tableOf(other);
		const found = table.get(list[k]!);
		if (found === undefined) continue;
		numbers[k] = found;
		shift = found - k;
	}
	return numbers;
}

function tableOf<T extends object>(list: readonly T[]): Map<T, number> {
	const table = new Map<T, number>();
	for (let k = 0; k < list.length; k++) table.set(list[k]!, k);
	return table;
}
