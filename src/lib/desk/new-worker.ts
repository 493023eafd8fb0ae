/** A worker that meshes. It is made here alone: a worker that is named in two places is built twice. */
export const newMeshWorker = (): Worker => new Worker(new URL('./mesh.worker.ts', import.meta.url), { type: 'module' });
