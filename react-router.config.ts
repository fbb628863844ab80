import type { Config } from "@react-router/dev/config";

export default {
  ssr: true,
  appDirectory: "app",
  // All addresses are known from the start: looking one up on the way, a page that asks its loaders again just then (useLive)
  // would drop the click.
  routeDiscovery: { mode: "initial" },
  future: { v8_middleware: true },
} satisfies Config;
