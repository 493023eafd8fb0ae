/** Imports point one way. In core the order of the folders is the order of the arrows: a folder imports only from those above it. */
const core = [
	...['numeric', 'text', 'geometry', 'recipe', 'mesh', 'domain', 'blocks', 'sizing', 'quality', 'divide', 'fill', 'assembly'],
	...['solid', 'findings', 'stages']
];
const layers = ['core', 'formats', 'disk', 'api', 'lib', 'server', 'cli', 'routes'];
/** What each layer may import besides itself. */
const mayImport = {
	core: [],
	formats: ['core'],
	disk: ['core', 'formats'],
	api: ['core', 'formats'],
	lib: ['core', 'formats', 'api'],
	server: ['core', 'formats', 'disk', 'api'],
	cli: ['core', 'formats', 'disk', 'api'],
	routes: ['core', 'formats', 'api', 'lib', 'server']
};
const tests = '[.]test[.]ts$';

export default {
	forbidden: [
		{ name: 'no-circle', severity: 'error', from: {}, to: { circular: true } },
		...core.map((folder, k) => ({
			name: `core-${folder}`,
			severity: 'error',
			comment: `core/${folder} imports only from the folders above it`,
			from: { path: `^src/core/${folder}/`, pathNot: tests },
			to: { path: `^src/core/(?!(${core.slice(0, k + 1).join('|')})/)` }
		})),
		...layers.map((layer) => ({
			name: layer,
			severity: 'error',
			comment: `src/${layer} imports only from ${mayImport[layer].join(', ') || 'itself'}`,
			from: { path: `^src/${layer}/`, pathNot: tests },
			to: { path: `^src/(?!(${[layer, ...mayImport[layer]].join('|')})/)` }
		}))
	],
	options: {
		doNotFollow: { path: 'node_modules' },
		exclude: { path: '[.]svelte-kit|/[$]types' },
		tsPreCompilationDeps: true,
		tsConfig: { fileName: 'tsconfig.json' },
		enhancedResolveOptions: { extensions: ['.ts', '.svelte', '.js'] }
	}
};
