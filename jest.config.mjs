/** Unit tests: fast, no browser, no outside program. `e2e/` belongs to Playwright. */
export default {
  testMatch: ["<rootDir>/{core,store,phone,demo,app,scripts}/**/*.test.ts"],
  transform: {
    "^.+\\.tsx?$": [
      "@swc/jest",
      {
        jsc: {
          parser: { syntax: "typescript", tsx: true },
          target: "es2022",
          transform: { react: { runtime: "automatic" } },
        },
        module: { type: "commonjs" },
      },
    ],
  },
  moduleNameMapper: { "^~/(.*)$": "<rootDir>/$1" },
  testEnvironment: "node",
};
