import type { Command } from 'commander';

/** A subcommand: its file adds it to the program, with its arguments, options and action. All of them stand in `subcommands.ts`. */
export type Subcommand = (program: Command) => void;

/** Collects the values of an option that may be repeated. */
export const collect = (value: string, list: string[] = []) => [...list, value];
