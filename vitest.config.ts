import { defineConfig } from 'vitest/config';

export default defineConfig({ test: { setupFiles: ['tests/seed.ts'], include: ['src/**/*.test.ts'], testTimeout: 60_000 } });
