import { fileURLToPath } from "node:url";
import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";
import { BUNDLED } from "./scripts/bundled.mjs";

export default defineConfig({
  plugins: [tailwindcss(), reactRouter()],
  resolve: { alias: { "~": fileURLToPath(new URL(".", import.meta.url)) } },
  // better-sqlite3 is a native module: it is loaded at run time, never bundled.
  ssr: { external: ["better-sqlite3"], noExternal: BUNDLED },
});
