// Several people over a network: nothing is answered before somebody signs in; three roles, one of them by a code; every
// page and every action by every role.
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import type { APIResponse, Browser, Page } from "@playwright/test";
import { mayDo, OPEN_PATTERNS, ROLES, type Role } from "~/core/access/roles";
import { openStore } from "~/store/database";
import { expect, RunningApp, test } from "../rig/app";
import { violationsOn } from "../rig/axe";
import { freePort } from "../rig/bench";

test.use({ desk: "people" });

test.describe.configure({ mode: "serial", timeout: 60_000 });

const WORDS = "brass kettle winter";
/** This computer's address on its network, where it has one. */
const ADDRESS =
  Object.values(os.networkInterfaces())
    .flat()
    .find((face) => face && !face.internal && face.family === "IPv4")?.address ?? "127.0.0.1";

let app: RunningApp;
let base = "";

test.beforeAll(async () => {
  app = new RunningApp(await freePort(), "demo", "", {
    HOST: "0.0.0.0",
    UPSHIFT_HOSTS: ADDRESS,
    UPSHIFT_PROCESSES: "2",
  });
  await app.start();
  base = `http://${ADDRESS}:${app.port}`;
});
test.afterAll(() => app.stop());

const account = (name: string, role: Role) =>
  execFileSync(process.execPath, ["--import", "tsx", "scripts/account.ts", "add", name, role], {
    env: { ...process.env, UPSHIFT_DB: app.db, UPSHIFT_PASSWORD: WORDS },
  });

async function signIn(page: Page, name: string, back = "/") {
  await page.goto(`${base}${back}`);
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill(WORDS);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByText(`Signed in: ${name}`).first()).toBeVisible();
}
const fresh = async (browser: Browser) => (await browser.newContext()).newPage();

test("nothing is answered before there is an account, and then before somebody signs in", async ({ page }) => {
  const first = await fetch(`${base}/`);
  expect(first.status).toBe(403);
  expect(await first.text()).toContain("npm run account");
  account("Oda Brandt", "coordinator");
  for (const path of [
    "/",
    "/match",
    "/devices/TH-001",
    "/records.csv",
    "/batches/2026-11-autumn/plan.json",
    "/match.data",
  ]) {
    const answer = await fetch(base + path, { redirect: "manual" });
    expect([302, 202], path).toContain(answer.status);
    expect(await answer.text(), path).not.toContain("TH-001");
  }
  await page.goto(`${base}/match?batch=2026-11-autumn`);
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  expect(await violationsOn(page)).toEqual([]);
  await page.getByLabel("Name").fill("Oda Brandt");
  await page.getByLabel("Password").fill("not this one");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByText("That name and password do not go together")).toBeVisible();
  await expect(page.getByLabel("Name")).toHaveValue("Oda Brandt");
  await page.getByLabel("Password").fill(WORDS);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(/match\?batch=2026-11-autumn/);
  await page.goto(`${base}/people`);
  expect(await violationsOn(page)).toEqual([]);
});

test("three browsers, three roles, one by a code: a step at the bench is seen by the others without a reload", async ({
  browser,
}) => {
  const lead = await fresh(browser);
  await signIn(lead, "Oda Brandt", "/people");
  const make = lead.getByRole("region", { name: "New account" });
  await make.getByLabel("Name").fill("Desk Person");
  await make.getByLabel("Role").selectOption("desk");
  await make.getByLabel("Password").fill(WORDS);
  await make.getByRole("button", { name: "Make it" }).click();
  await expect(lead.getByRole("cell", { name: "Desk Person" }).first()).toBeVisible();
  // A password that was set for somebody does not stay on the screen.
  await expect(make.getByLabel("Name")).toHaveValue("");
  await expect(make.getByLabel("Password")).toHaveValue("");
  const code = lead.getByRole("region", { name: "A volunteer's own phone, for this evening" });
  await code.getByLabel("Whose").fill("Mira");
  await code.getByRole("button", { name: "Show a code to scan" }).click();
  await expect(lead.getByRole("img", { name: "Code to scan" })).toBeVisible();
  const address = (await lead.getByText(/\/join\//).textContent()) ?? "";

  const phone = await fresh(browser);
  await phone.setViewportSize({ width: 400, height: 800 });
  await phone.goto(address);
  await phone.getByRole("button", { name: "Open the bench" }).click();
  await expect(phone.getByRole("heading", { name: "Bench", exact: true })).toBeVisible();
  // The code is used up.
  expect((await fetch(address)).status).toBe(410);

  const desk = await fresh(browser);
  await signIn(desk, "Desk Person");
  await desk.goto(`${base}/devices/TH-019`);
  await expect(desk.getByLabel("Donor")).toBeVisible();
  await desk.getByRole("button", { name: "Show whole numbers" }).click();
  await expect(desk.getByText("Shown whole: serial number and IMEI")).toBeVisible();

  await lead.goto(`${base}/bench`);
  await expect(lead.getByText("In hand: Mira")).toHaveCount(0);
  await phone.goto(`${base}/bench/TH-019`);
  const before = await phone.getByText(/Step \d+ of/).textContent();
  await phone.getByRole("button", { name: /^Done/ }).click();
  await expect(phone.getByText(/Step \d+ of/)).not.toHaveText(before ?? "");
  await expect(lead.getByText("In hand: Mira")).toBeVisible();
  await lead.goto(`${base}/bench/TH-019`);
  await expect(lead.getByText("Mira has this device in hand")).toBeVisible();
  // From the beginning on, not only from the first step.
  await phone.goto(`${base}/bench/TH-010`);
  await phone.locator('button[name="act"][value="begin"]').click();
  await expect(phone.getByText(/Step \d+ of/)).toBeVisible();
  await lead.goto(`${base}/bench/TH-010`);
  await expect(lead.getByText("Mira has this device in hand")).toBeVisible();

  // Donors and whole numbers are not even sent to the bench.
  await phone.goto(`${base}/devices/TH-019?numbers=whole`);
  await expect(phone.getByRole("heading", { name: /TH-019/ })).toBeVisible();
  await expect(phone.getByLabel("Donor")).toHaveCount(0);
  const sent = await (await phone.request.get(`${base}/devices/TH-019.data?numbers=whole`)).text();
  const known = await (await desk.request.get(`${base}/devices/TH-019.data?numbers=whole`)).text();
  const serial = /ONT\d{7}/.exec(known)?.[0] ?? "";
  expect(serial).not.toBe("");
  expect(sent).not.toContain(serial);

  // A coordinator ends the phone's session: it is out at once.
  await lead.goto(`${base}/people`);
  await lead.getByRole("button", { name: "Sign out Mira" }).click();
  await expect(lead.getByRole("button", { name: "Sign out Mira" })).toHaveCount(0);
  await phone.goto(`${base}/bench`);
  await expect(phone.getByRole("heading", { name: "Sign in" })).toBeVisible();
});

/** Every page of the table of routes but those that are open to all, and the stream that never ends. */
const patternsOf = () =>
  [...fs.readFileSync("app/routes.ts", "utf8").matchAll(/route\("([^"]+)"/g)]
    .map((m) => `/${m[1]}`)
    .filter((p) => p !== "/*" && !p.endsWith("/live") && !OPEN_PATTERNS.includes(p));
const THERE: Record<string, string> = {
  ":tag": "TH-019",
  ":name": "x",
  ":model": "velkora-vista20",
  ":batch": "2026-11-autumn",
  ":file": "SHA256SUMS",
  ":part": "names",
};
const filled = (pattern: string) => pattern.replace(/:\w+/g, (p) => THERE[p] ?? "1");

/** The status of an answer; being sent to sign in means that the session is gone. */
const statusOf = (answer: APIResponse) => (/\/sign-in/.test(answer.headers().location ?? "") ? 401 : answer.status());

test("every page and every action, by every role", async ({ browser }) => {
  test.setTimeout(240_000);
  const patterns = ["/", ...patternsOf()];
  const wrong: string[] = [];
  for (const role of ROLES) {
    const name = `Every ${role}`;
    account(name, role);
    const page = await fresh(browser);
    await signIn(page, name, role === "looker-on" ? "/match" : "/");
    for (const pattern of patterns) {
      const url = base + filled(pattern);
      const got = statusOf(await page.request.get(url, { maxRedirects: 0 }));
      if (got === 401 || (got === 403) === mayDo(role, "GET", pattern)) wrong.push(`${role} GET ${pattern}: ${got}`);
      // A form that asks for nothing: it is refused for what it lacks, or for the role.
      const posted = statusOf(
        await page.request.post(url, {
          form: { act: "nothing-of-the-kind" },
          headers: { origin: base },
          maxRedirects: 0,
        }),
      );
      const may = mayDo(role, "POST", pattern);
      if (posted === 405) continue;
      if (posted === 401 || (posted === 403) === may) wrong.push(`${role} POST ${pattern}: ${posted}`);
    }
    await page.context().close();
  }
  expect(wrong).toEqual([]);
});

test("nobody is shown a link that is refused, or a button for what they may not do", async ({ browser }) => {
  test.setTimeout(240_000);
  for (const role of ["bench", "looker-on"] as const) {
    const page = await fresh(browser);
    await signIn(page, `Every ${role}`, "/match");
    const links = new Set<string>();
    const wrong: string[] = [];
    const offered: string[] = [];
    const pages = ["/", ...patternsOf()].filter(
      (p) => mayDo(role, "GET", p) && !p.includes(".") && !p.includes(":file"),
    );
    for (const pattern of pages) {
      // As it is served: a page is read before its scripts run.
      const html = await (await page.request.get(base + filled(pattern))).text();
      const main = html.slice(html.indexOf("<main"), html.indexOf("</main>"));
      for (const [, href] of main.matchAll(/<a [^>]*href="(\/[^"]*)"/g)) links.add(href.replaceAll("&amp;", "&"));
      const form = /<form[^>]* method="post"[\s\S]*?<\/form>/.exec(main)?.[0];
      if (!form?.includes('type="submit"')) continue;
      if (mayDo(role, "POST", pattern)) offered.push(pattern);
      else wrong.push(`${role} ${pattern}: ${form}`);
    }
    expect(offered).toContain("/account");
    expect(links.size).toBeGreaterThan(30);
    for (const link of links)
      if (statusOf(await page.request.get(base + link, { maxRedirects: 0 })) === 403) wrong.push(`${role} → ${link}`);
    expect(wrong).toEqual([]);
    await page.context().close();
  }
});

test("donors and whole numbers are sent to nobody who does not need them", async ({ browser }) => {
  const store = openStore(app.db);
  const pluck = (sql: string) => store.prepare(sql).pluck().all() as string[];
  const donors = pluck("SELECT DISTINCT donor FROM device WHERE donor <> ''");
  const numbers = [
    ...pluck("SELECT serial FROM device WHERE serial <> ''"),
    ...pluck("SELECT imei FROM device WHERE imei <> ''"),
  ];
  store.close();
  expect(donors.length).toBeGreaterThan(2);
  expect(numbers.length).toBeGreaterThan(20);
  const found: string[] = [];
  for (const role of ["bench", "looker-on"] as const) {
    const page = await fresh(browser);
    await signIn(page, `Every ${role}`, "/match");
    for (const pattern of ["/", ...patternsOf()])
      for (const end of ["", ".data"]) {
        const url = `${base}${filled(pattern)}${end}?numbers=whole&batch=2026-11-autumn&need=messaging-phone&q=Rivergate`;
        const answer = await page.request.get(url, { maxRedirects: 0 });
        if (!answer.ok()) continue;
        const text = (await answer.text()).replaceAll("&amp;", "&").replaceAll("\\u0026", "&");
        // The sheet compares the number with what the device says of itself.
        const secrets = pattern.includes("runbook") ? donors : [...donors, ...numbers];
        for (const secret of secrets) if (text.includes(secret)) found.push(`${role} ${pattern}${end}: ${secret}`);
      }
    await page.context().close();
  }
  expect(found).toEqual([]);
});

test("a script reports with the key it was served with, for its own device only", async ({ browser }) => {
  const lead = await fresh(browser);
  await signIn(lead, "Oda Brandt");
  const script = await (await lead.request.get(`${base}/devices/TH-019/runbook.sh`)).text();
  const key = /LANE_KEY=\$\{LANE_KEY:-([\w-]{43})\}/.exec(script)?.[1] ?? "";
  expect(key).not.toBe("");
  const report = async (tag: string, headers: Record<string, string>) =>
    (await fetch(`${base}/devices/${tag}/report`, { method: "POST", body: "not a report\n", headers })).status;
  expect(await report("TH-019", {})).toBe(403);
  expect(await report("TH-019", { "x-lane-key": "x".repeat(43) })).toBe(403);
  expect(await report("TH-010", { "x-lane-key": key })).toBe(403);
  expect(await report("TH-019", { "x-lane-key": key })).not.toBe(403);
});
