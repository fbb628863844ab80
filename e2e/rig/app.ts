import { type ChildProcess, spawn } from "node:child_process";
import { test as base, type Page } from "@playwright/test";
import { demoLost } from "~/demo/register";
import { SERVE } from "~/scripts/serving.mjs";
import { RegisterStandIn } from "~/standins/register";
import { command, freePort } from "./bench";
import { type Beginning, freshDatabase } from "./databases";

/** The application on a database of its own, which can be stopped and started again. */
export class RunningApp {
  private child: ChildProcess | null = null;
  readonly db: string;

  constructor(
    readonly port: number,
    kind: Beginning,
    /** Address of the register stand-in. */
    readonly register = "",
    /** Further settings, as an operator gives them. */
    readonly settings: Readonly<Record<string, string>> = {},
  ) {
    this.db = freshDatabase(kind);
  }

  get url() {
    return `http://127.0.0.1:${this.port}`;
  }

  async start() {
    this.child = spawn(process.execPath, SERVE, {
      stdio: "ignore",
      env: {
        ...process.env,
        NODE_ENV: "production",
        HOST: "127.0.0.1",
        PORT: String(this.port),
        UPSHIFT_DB: this.db,
        UPSHIFT_REGISTER: this.register,
        // One process: what is killed is killed whole.
        UPSHIFT_PROCESSES: "1",
        ...this.settings,
      },
    });
    for (let n = 0; n < 800; n++) {
      const up = await fetch(`${this.url}/favicon.ico`).then(
        () => true,
        () => false,
      );
      if (up) return;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error("the application did not start: run npm run build");
  }

  async stop() {
    const { child } = this;
    if (!child) return;
    this.child = null;
    const gone = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGKILL");
    await gone;
  }
}

/** A division is looked for for ten seconds and proven for eighteen; what else would help comes on top, on a busy computer. */
export const WORKED_OUT = { timeout: 60_000 };

/** React has taken the whole page over: `html` is the last of it. Pages without scripts, and files, are at once. */
export const takenOver = (page: Page) =>
  page.waitForFunction(
    () =>
      !("__reactRouterContext" in window) ||
      Object.keys(document.documentElement).some((key) => key.startsWith("__reactFiber")),
  );

/**
 * Every spec file names a `desk`; Playwright gives files with different desks different workers, and so each file an
 * application and database of its own: no test sees another file's changes.
 */
export const test = base.extend<
  { app: RunningApp },
  { desk: string; register: RegisterStandIn; appOfWorker: RunningApp }
>({
  desk: ["", { scope: "worker", option: true }],
  register: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the names from the pattern.
    async ({}, use) => {
      const register = new RegisterStandIn(demoLost());
      await use(register);
      register.close();
    },
    { scope: "worker" },
  ],
  appOfWorker: [
    async ({ desk, register }, use) => {
      if (!desk) throw new Error("name the file's desk: test.use({ desk: … })");
      // A server of adb's own for each application: tests leave the computer's alone.
      const adb = String(await freePort());
      const settings = { ANDROID_ADB_SERVER_PORT: adb };
      const app = new RunningApp(await freePort(), "demo", await register.listen(), settings);
      await app.start();
      await use(app);
      await app.stop();
      await command("adb", ["-P", adb, "kill-server"]);
    },
    { scope: "worker" },
  ],
  app: async ({ appOfWorker }, use) => use(appOfWorker),
  page: async ({ page }, use) => {
    // Typed while React takes a page over, text comes to stand beside what was there: tests begin when it has it. A page
    // asked for before it is whole is looked at as it is.
    const goto = page.goto.bind(page);
    page.goto = async (address, options) => {
      const answer = await goto(address, options);
      if (options?.waitUntil !== "commit") await takenOver(page);
      return answer;
    };
    await use(page);
  },
  baseURL: async ({ appOfWorker }, use) => use(appOfWorker.url),
});

export { expect } from "@playwright/test";
