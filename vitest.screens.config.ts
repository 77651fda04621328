import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['tests/screens/**/*.test.ts', 'tests/held/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // one browser and one server at a time: two cores
    fileParallelism: false,
  },
});
