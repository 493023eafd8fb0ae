import { backup, restore } from './backup.ts';
import { check } from './check.ts';
import { desk } from './desk.ts';
import { diff } from './diff.ts';
import { format } from './format.ts';
import { importFiles } from './import.ts';
import { languageServer } from './language-server.ts';
import { look } from './look.ts';
import { mesh } from './mesh.ts';
import { serve } from './serve.ts';
import { study } from './study.ts';
import type { Subcommand } from './subcommand.ts';
import { watch } from './watch.ts';

/** Every subcommand, in the order in which `--help` tells them. */
export const subcommands: readonly Subcommand[] = [
	...[mesh, check, format, importFiles, look, study, serve, desk, watch, diff],
	...[languageServer, backup, restore]
];
