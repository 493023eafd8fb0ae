const alive: object[] = [];

/**
 * Keeps one object of a class for good. Once a collection finds no object of a class alive, an engine forgets how they are
 * laid out, and with it all code that was compiled for them: of a class whose objects come and go with a fill, every fill
 * would start in the interpreter again.
 */
export function keepHiddenClass(object: object): void {
	alive.push(object);
}
