// A house whose clocks are changed twice a year: what takes every day for 24 real hours shows.
process.env.TZ = "Europe/Berlin";

/** Unit tests: fast, no browser, no outside program. `e2e/` belongs to Playwright. */
export default {
  testMatch: ["<rootDir>/{core,store,phone,demo,app,scripts}/**/*.test.ts"],
  transform: {
    "^.+\\.[jt]sx?$": [
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
  // Packages that ship as ES modules only.
  transformIgnorePatterns: ["/node_modules/(?!(file-type|strtok3|token-types|uint8array-extras|@tokenizer|@borewit)/)"],
  moduleNameMapper: {
    "^~/(.*)$": "<rootDir>/$1",
    "^\\.\\./locales/index\\.cjs$": "<rootDir>/testing/noLocales.cjs",
    "^date-fns$": "<rootDir>/testing/dateFns.cjs",
  },
  // What the sandbox of tests would look up anew at each use.
  sandboxInjectedGlobals: [
    "Math",
    "Number",
    "Object",
    "Array",
    "Map",
    "Set",
    "String",
    "JSON",
    "Symbol",
    "Error",
    "RegExp",
    "Uint8Array",
    "DataView",
    "Float64Array",
    "Int32Array",
  ],
  testEnvironment: "<rootDir>/testing/environment.cjs",
  // A machine that does something else beside them is slow, not wrong.
  testTimeout: 30_000,
  maxWorkers: "100%",
};
