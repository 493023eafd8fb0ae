import fc from 'fast-check';

// The same cases in every run: a failure is there again the next time. `npm run test:long` looks at others, and many times as
// many where a property does not say how many; what it finds is reported with its seed.
fc.configureGlobal(process.env.LONG ? { numRuns: 2000 } : { seed: 2026 });
