import { configDefaults, defineConfig } from 'vitest/config';

/** What is told of playing or of ends within a time is looked at with nothing else running. */
const QUIET = ['tests/screens/demo-film.test.ts', 'tests/screens/long-film.test.ts', 'tests/held/kills.test.ts'];

const project = (name: string, include: string[], exclude: string[], maxWorkers: number, groupOrder: number) => ({
  test: {
    name,
    include,
    exclude: [...configDefaults.exclude, ...exclude],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    maxWorkers,
    sequence: { groupOrder },
  },
});

export default defineConfig({
  test: {
    globalSetup: ['tests/screens/seed.ts'],
    // each file has a browser and a server of its own; two at a time on two cores
    projects: [
      project('screens', ['tests/screens/**/*.test.ts', 'tests/held/**/*.test.ts'], QUIET, 2, 0),
      project('quiet', QUIET, [], 1, 1),
    ],
  },
});
