// The second thread of scheduleThreads.ts: threads do not inherit the loader of TypeScript.
import { tsImport } from "tsx/esm/api";

await tsImport("./scheduleThreads.ts", import.meta.url);
