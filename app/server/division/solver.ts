import { readFileSync } from "node:fs";
import { createRequire } from "node:module";

let compiled: WebAssembly.Module | null = null;

/** The solver, compiled once for all threads of a process: what one of them made quick is quick for the next. */
export function solverModule(): WebAssembly.Module {
  compiled ??= new WebAssembly.Module(readFileSync(createRequire(import.meta.url).resolve("highs/runtime")));
  return compiled;
}
