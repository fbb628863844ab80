import type { FactKey, FactValue } from "~/core/device/fact";
import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { type Plan, Planner, planDevice, planSetAside, planSignature, rankQuestions } from "./plan";

const index = indexCatalogue(demoCatalogue());
const scenario = demoScenario();

function plan(
  tag: string,
  options: { need?: string; policy?: Policy; facts?: Partial<Record<FactKey, FactValue>> } = {},
) {
  const device = scenario.devices.find((d) => d.tag === tag);
  const need = index.needs.get(options.need ?? device?.need ?? "");
  if (!device || !need) throw new Error("no such demo device or need");
  const facts = currentFacts(scenarioFacts(device, "2026-11-16T00:00:00Z", "x"));
  const with_ = options.facts ? new Map([...facts, ...makeFacts(options.facts)]) : facts;
  return planDevice({ facts: with_, clearance: device.clearance, need }, index, options.policy ?? DEFAULT_POLICY);
}

const kinds = (p: ReturnType<typeof plan>) => p.best?.operations.map((o) => o.kind);
const stop = (p: ReturnType<typeof plan>, image: string) => p.stops.find((s) => s.image === image);

describe("the demo scenario, device by device", () => {
  test("a steady older build goes before the newest with broken calls", () => {
    const p = plan("TH-001");
    expect(p.verdict).toBe("can-go");
    expect(p.best?.image).toBe("wicklight-14-vesper");
    const newest = p.ways.find((w) => w.image === "wicklight-15-vesper");
    expect(newest?.fit.works).toBe(false);
    expect(newest?.fit.hardwareNot[0].says).toContain("no sound");
  });

  test("ahead of its steady build: down a release, through stock", () => {
    const p = plan("TH-003");
    expect(p.best).toMatchObject({ image: "wicklight-14-vesper", release: "14" });
    expect(kinds(p)).toEqual(["flash-stock", "flash-recovery", "install-rom"]);
  });

  test("direct going down only by policy and with a recorded success", () => {
    const direct = { ...DEFAULT_POLICY, goingDown: "direct" as const };
    const through = plan("TH-009", { need: "messaging-phone" }).ways.filter((w) => w.image === "tallgrass-12-lumen-r2");
    const straight = plan("TH-009", { need: "messaging-phone", policy: direct }).ways.filter(
      (w) => w.image === "tallgrass-12-lumen-r2",
    );
    expect(through.every((w) => w.operations.some((o) => o.kind === "flash-stock"))).toBe(true);
    expect(straight.some((w) => !w.operations.some((o) => o.kind === "flash-stock"))).toBe(true);
    // No recorded success on this model: through stock, whatever the policy says.
    expect(plan("TH-003", { policy: direct }).best?.operations[0].kind).toBe("flash-stock");
  });

  test("dangerous firmware is left for the safe base before anything else", () => {
    const p = plan("TH-014");
    for (const way of p.ways) expect(["take-update", "allow-unlock"]).toContain(way.operations[0].kind);
    for (const way of p.ways) {
      const base = way.operations.findIndex((o) => o.kind === "take-update" || o.kind === "flash-stock");
      const foreign = way.operations.findIndex((o) =>
        ["flash-recovery", "install-gsi", "flash-verification"].includes(o.kind),
      );
      if (foreign >= 0) expect(base).toBeLessThan(foreign);
    }
  });

  test("seven days of waiting are told as waiting", () => {
    const p = plan("TH-017");
    expect(p.verdict).toBe("waiting");
    expect(p.best).toMatchObject({ waitingDays: 7, irreversible: [expect.stringContaining("fuse")] });
  });

  test("a model that can't be unlocked takes official updates, and its stock system is cleaned", () => {
    const p = plan("TH-019");
    expect(kinds(p)).toEqual(["take-update", "take-update", "factory-reset", "clean-stock"]);
    expect(p.says).toContain("its stock system cleaned");
    // The same without the cleaning is there to choose, and costs less.
    const plain = p.ways.find((w) => w.cleaned === null && w.release === p.best?.release);
    expect(plain?.operations.map((o) => o.kind)).toEqual(["take-update", "take-update", "factory-reset"]);
    expect(stop(p, "plainsong-14-arm64")).toMatchObject({
      code: "unlock.impossible",
      says: expect.stringContaining("gives out no unlock permission"),
    });
  });

  test("a list that cleans nothing says why, like every other image", () => {
    expect(stop(plan("TH-019"), "tab8-clean-11")).toBeUndefined();
    const never = plan("TH-019", { policy: { ...DEFAULT_POLICY, cleaning: "never" } });
    expect(stop(never, "tab8-clean-11")?.code).toBe("packages.not-wanted");
  });

  test("room for the generic image only after product goes", () => {
    const p = plan("TH-021");
    expect(kinds(p)).toContain("remove-product");
    const withoutProduct = plan("TH-021", { facts: { "fastboot.userspace": false } });
    expect(stop(withoutProduct, "plainsong-14-arm64")?.code).toBe("gsi.room");
  });

  test("the verification file must be of the very build", () => {
    const p = plan("TH-021", { facts: { "build.number": "BT10-QZ9A.200806.009" } });
    expect(
      p.ways
        .filter((w) => w.image === "plainsong-14-arm64")
        .every((w) => w.operations.some((o) => o.kind === "take-update" || o.kind === "flash-stock")),
    ).toBe(true);
  });

  test("a missing build number is a question, not a guess", () => {
    const p = plan("TH-022");
    expect(p.verdict).toBe("check-first");
    expect(p.questions.map((q) => q.fact)).toContain("build.number");
  });

  test("a withdrawn build names its successor", () => {
    expect(stop(plan("TH-006"), "tallgrass-12-lumen-r1")).toMatchObject({
      code: "image.withdrawn",
      says: expect.stringContaining("Tallgrass 12"),
    });
  });

  test("what was set aside is not planned, whatever its lock and its need", () => {
    expect(planSetAside("swollen")).toMatchObject({
      ...{ verdict: "not-this-way", model: null, best: null, ways: [], questions: [], stops: [] },
      says: expect.stringMatching(/^Set aside: .*Not charged, not treated/),
    });
  });

  test("good enough as it is", () => {
    const p = plan("TH-020");
    expect(p.verdict).toBe("good-enough");
    expect(p.best?.keeps).toBe(true);
    expect(kinds(p)).toEqual(["factory-reset"]);
  });

  test("one name over two boards: the model number is asked for", () => {
    const p = plan("TH-012");
    expect(p).toMatchObject({ verdict: "check-first", model: null });
    expect(p.questions[0].fact).toBe("model.number");
  });

  test("one board under three names shares its builds", () => {
    for (const tag of ["TH-006", "TH-007", "TH-008"]) expect(plan(tag).model).toBe("velkora-lume");
  });

  test("a locked account and an owner who was asked: nothing is planned", () => {
    expect(plan("TH-005")).toMatchObject({ verdict: "waiting", ways: [], best: null });
    expect(plan("TH-016").stops.every((s) => s.code === "clearance.open")).toBe(true);
  });

  test("an integrity verdict rules out what does not pass", () => {
    const p = plan("TH-009");
    expect(p.best?.fit.works).toBe(true);
    expect(p.ways.find((w) => w.image === "tallgrass-13-lumen")?.fit.works).toBe(false);
    for (const way of p.ways.filter((w) => w.image?.startsWith("plainsong")))
      expect(way.fit.appsNot.map((a) => a.app)).toContain("Tarnbank");
  });

  test("a known bad pair is not installed", () => {
    const p = plan("TH-023");
    for (const way of p.ways) {
      const ids = way.operations.map((o) => o.image);
      expect(ids.includes("tallgrass-9-emberlin") && ids.includes("lanternkeep-2-emberlin")).toBe(false);
    }
  });

  // Common practice: ROM 0.13–1.4 GB and services 0.09–0.2 GB to fetch; every way's bytes are the sum of its files.
  test("bytes to fetch are the sum of the files of a way", () => {
    for (const way of plan("TH-002").ways) {
      const sum = way.operations.reduce((n, o) => n + (o.image ? (index.images.get(o.image)?.bytes ?? 0) : 0), 0);
      expect(way.bytes).toBe(sum);
    }
  });
});

describe("relocking", () => {
  const WHOLE = ["boot", "system", "vbmeta", "recovery"];
  const partFiles = (parts: readonly string[]) =>
    parts.length
      ? parts.map((partition) => ({ name: `${partition}.img`, partition, bytes: 1_000_000 }))
      : [{ name: "all.zip", bytes: 1_000_000 }];
  const stockOnly = (relock: boolean, policy: Policy = DEFAULT_POLICY, parts: readonly string[] = WHOLE) => {
    const model = makeModel({ id: "m", relock });
    const stock = makeImage(
      { id: "s", kind: "stock", models: ["m"], build: "B", firmware: "F3", files: partFiles(parts) },
      31,
    );
    const i = indexCatalogue(makeCatalogue({ models: [model], images: [stock] }));
    const facts = makeFacts({
      "model.number": "N-m",
      "android.release": "15",
      "system.kind": "custom",
      "build.number": "X",
      "bootloader.locked": false,
      "firmware.version": "F2",
    });
    return planDevice(
      {
        facts,
        clearance: "confirmed-clear",
        need: makeNeed({ apps: [{ name: "Bank", minApi: 29, integrity: true }] }),
      },
      i,
      policy,
    );
  };

  test("a device that goes out wholly stock is started, then locked", () => {
    expect(stockOnly(true).best?.operations.map((o) => o.kind)).toEqual(["flash-stock", "start-and-check", "relock"]);
  });
  test("a package that holds only some of the partitions is never locked behind", () => {
    for (const part of ["vbmeta", "recovery"]) {
      const p = stockOnly(
        true,
        DEFAULT_POLICY,
        WHOLE.filter((w) => w !== part),
      );
      expect(p.ways.length).toBeGreaterThan(0);
      expect(p.ways.some((w) => w.operations.some((o) => o.kind === "relock"))).toBe(false);
      expect(p.ways.some((w) => w.cautions.some((c) => c.includes(`does not hold ${part}`)))).toBe(true);
    }
  });
  test("a package without files for partitions is no way back to stock, and says so", () => {
    const p = stockOnly(true, DEFAULT_POLICY, []);
    expect(p.stops.find((s) => s.image === "s")).toMatchObject({ code: "stock.not-whole" });
  });
  test("where it can't be locked, an app that asks for integrity does not run", () => {
    expect(stockOnly(false).best).toBeNull();
    expect(stockOnly(true, { ...DEFAULT_POLICY, relock: "never" }).best).toBeNull();
  });
});

describe("many devices", () => {
  const requests = scenario.devices.map((d) => ({
    facts: currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x")),
    clearance: d.clearance,
    need: index.needs.get(d.need) as never,
  }));

  test("devices with the same signature are planned once", () => {
    const planner = new Planner(index, DEFAULT_POLICY);
    const first = requests.map((r) => planner.plan(r));
    const again = requests.map((r) =>
      planner.plan({ ...r, facts: new Map([...r.facts, ...makeFacts({ "battery.percent": 12 })]) }),
    );
    expect(again).toEqual(first);
    expect(again.every((p, i) => p === first[i])).toBe(true);
    expect(planner.signatures).toBe(new Set(requests.map(planSignature)).size);
  });

  test("a device planned for one need after the other has the plans that each need alone would bring", () => {
    const planner = new Planner(index, DEFAULT_POLICY);
    let unlike = 0;
    for (const request of requests) {
      const needs = [...index.needs.values()].flatMap((need) => [
        need,
        { ...need, id: `${need.id}, left open`, schools: { ...need.schools, relock: "never" as const } },
      ]);
      const plans = needs.map((need) => planner.plan({ ...request, need }));
      const alone = needs.map((need) => planDevice({ ...request, need }, index, DEFAULT_POLICY));
      // Whole plans side by side are held against each other as text first: they are large.
      if (JSON.stringify(plans) !== JSON.stringify(alone)) expect(plans).toEqual(alone);
      const ids = plans.map(({ ways }) => ways.map((way) => way.id).join());
      for (let i = 0; i < ids.length; i += 2) if (ids[i] !== ids[i + 1]) unlike++;
    }
    // A need with its own schools takes nothing over from the one before it.
    expect(unlike).toBeGreaterThan(0);
  });

  test("of questions that decide as many devices, the one whose fact comes first in the alphabet", () => {
    const asks = (...facts: string[]) =>
      ({ questions: facts.map((fact) => ({ fact, code: "release.unknown", says: "?" })) }) as unknown as Plan;
    const ranked = (...plans: Plan[]) =>
      rankQuestions(plans).map(({ question, devices }) => `${question.fact} ${devices}`);
    const once = ["slot.current", "build.number", "android.release"];
    expect(ranked(asks(...once))).toEqual(["android.release 1", "build.number 1", "slot.current 1"]);
    expect(ranked(asks(...once.toReversed()))).toEqual(["android.release 1", "build.number 1", "slot.current 1"]);
    expect(ranked(asks("slot.current", "build.number"), asks("slot.current"))[0]).toBe("slot.current 2");
  });

  test("open questions are ranked by the devices they decide", () => {
    const ranked = rankQuestions(requests.map((r) => planDevice(r, index, DEFAULT_POLICY)));
    expect(ranked.length).toBeGreaterThan(2);
    for (let i = 1; i < ranked.length; i++) expect(ranked[i - 1].devices).toBeGreaterThanOrEqual(ranked[i].devices);
  });
});
