// A long taking-in, and people who press steps meanwhile: both go on, nobody is refused, and nothing pressed is lost.
import { openStore } from "~/store/database";
import { findStanding } from "~/store/devices";
import { listImports } from "~/store/imports";
import { findRun, stepsOf } from "~/store/runs";
import { expect, test } from "../rig/app";

test.use({ desk: "busy" });

const ROWS = 10_000;

test("ten thousand rows are taken in while a step is pressed every 100 ms", async ({ app }) => {
  const post = (at: string, body: BodyInit) =>
    fetch(`${app.url}${at}`, { method: "POST", body, headers: { origin: app.url }, redirect: "manual" });
  const step = (act: string) => post("/bench/TH-010", new URLSearchParams({ act, place: "0" }));
  expect((await step("begin")).status).toBe(302);

  const list = new FormData();
  const rows = Array.from({ length: ROWS }, (_, i) => `B-${i},VK-L8,9,${i % 100}`).join("\n");
  list.set("file", new File([`tag,model,android,battery\n${rows}\n`], "busy.csv", { type: "text/csv" }));
  list.set("batch", "2026-11-autumn");
  list.set("source", "Busy school");
  const read = await post("/intake/list", list);
  expect(read.status).toBe(302);
  let at = read.headers.get("location") ?? "";
  await expect
    .poll(async () => {
      at = (await fetch(`${app.url}${at}`)).url.replace(app.url, "");
      return at;
    })
    .toMatch(/^\/intake\/lists\/\d+/);
  const store = openStore(app.db);
  const imported = () => listImports(store).find(({ source }) => source === "Busy school");
  const { version = 0 } = imported() ?? {};
  const taking = post(at, new URLSearchParams({ do: "take", version: String(version) }));

  const reads: { readonly from: number; readonly ms: number }[] = [];
  let over = false;
  const reading = (async () => {
    while (!over) {
      const begun = performance.now();
      expect((await fetch(`${app.url}/devices/TH-010`)).status).toBe(200);
      // The first look at ten thousand devices plans them all: that is no waiting for who writes.
      if (!imported()?.taken) reads.push({ from: begun, ms: performance.now() - begun });
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  })();
  const waits: { readonly from: number; readonly ms: number }[] = [];
  const said: number[] = [];
  let taken = 0;
  while (taken < ROWS && said.length < 300) {
    const begun = performance.now();
    said.push((await step(said.length % 2 === 0 ? "done" : "undone")).status);
    waits.push({ from: begun, ms: performance.now() - begun });
    await new Promise((resolve) => setTimeout(resolve, Math.max(0, 100 - (performance.now() - begun))));
    taken = imported()?.taken ?? 0;
  }
  over = true;
  await reading;
  expect((await taking).status).toBe(302);
  expect(taken).toBe(ROWS);
  // Pressed often enough while it went on, each answered as pressed, and all of them stand in the run.
  expect(said.length).toBeGreaterThan(2);
  expect([...new Set(said)]).toEqual([302]);
  const run = findRun(store, findStanding(store, "TH-010")?.id as number);
  expect(stepsOf(store, run?.id as number)).toHaveLength(said.length);
  // Whoever changes something waits for the long writing to end; whoever only looks does not.
  const [longest] = [...waits].sort((a, b) => b.ms - a.ms);
  const meanwhile = reads.filter(({ from }) => from > longest.from).map(({ ms }) => Math.round(ms));
  expect(meanwhile.length, "looks while a step waited for the writing to end").toBeGreaterThan(2);
  expect(Math.max(...meanwhile), `reads ${meanwhile}, longest step ${longest.ms}`).toBeLessThan(longest.ms / 2);
  store.close();
});
