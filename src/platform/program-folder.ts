import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder with this program's `package.json`: that of the sources, or of the installed package. Everything built stands below. */
export const programFolder = nearestPackage(dirname(fileURLToPath(import.meta.url)));

function nearestPackage(folder: string): string {
	while (!existsSync(join(folder, 'package.json'))) {
		const above = dirname(folder);
		if (above === folder) return process.cwd();
		folder = above;
	}
	return folder;
}
