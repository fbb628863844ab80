import { apiOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import type { Policy } from "~/core/policy/policy";

// The judge of the planner: every order of steps is tried, without a search's cleverness and without the planner's rules. The
// steps, what they ask for, what they do and what they cost are written anew here, after the handbook; so is what it
// means that one way is no better than another. Nothing but the catalogue's types is shared.

export interface Case {
  readonly locked: boolean;
  readonly granted: boolean;
  readonly runs: "stock" | "custom";
  readonly api: number;
  readonly build: string;
  readonly firmware: number;
  readonly clean: boolean;
  readonly unlockable: boolean;
  readonly days: number;
  readonly relock: boolean;
  readonly product: boolean;
  readonly direct: boolean;
  readonly policy: Policy;
  readonly minApi: number;
  readonly services: boolean;
  readonly integrity: boolean;
  readonly images: readonly Image[];
}

interface World {
  readonly sys: "stock" | "custom" | "generic";
  readonly image: string | null;
  readonly api: number;
  readonly patch: string | null;
  readonly base: string | null;
  readonly baseApi: number;
  readonly firmware: number;
  readonly locked: boolean;
  readonly perm: 0 | 1 | 2;
  readonly rec: string | null;
  readonly store: "donor" | "workshop" | "clean" | "format";
  readonly checked: boolean;
  readonly addOn: boolean;
  readonly product: boolean;
  readonly up: "runs" | "fresh" | "down";
  readonly whole: boolean;
  /** Opened in this plan; nothing installed since. */
  readonly opened: boolean;
  readonly unpaid: boolean;
  readonly touched: boolean;
}

interface Spent {
  readonly hands: number;
  readonly alone: number;
  readonly days: number;
  readonly bytes: number;
  readonly good: number;
  readonly wipes: number;
  readonly marks: number;
}

export const GIB = 1_073_741_824;
export const ROOM = 1.5 * GIB;
export const EXTRA = 0.75 * GIB;
export const MARKS = ["a mark"];
const sizeOf = (i: Image) => i.files.reduce((n, f) => n + f.bytes, 0);
const spread = (i: Image) => i.files.reduce((n, f) => n + (f.expanded ?? f.bytes), 0);
const level = (i: Image) => apiOf(i.release) as number;
const minutesOf = (bytes: number) => bytes / 9_000_000 / 60;

type Step = readonly [World, Partial<Spent>];

/** Everything that can be done next, with what it costs. */
function next(w: World, c: Case): Step[] {
  const out: Step[] = [];
  const can = (ok: boolean, change: Partial<World>, cost: Partial<Spent>) => {
    if (ok) out.push([{ ...w, touched: true, ...change }, cost]);
  };
  const rec = c.images.find((i) => i.id === w.rec);
  for (const i of c.images) {
    const api = level(i);
    const bytes = sizeOf(i);
    const fw = Number(i.firmware?.slice(1) ?? w.firmware);
    if (i.kind === "official-update")
      can(
        w.sys === "stock" &&
          w.up === "runs" &&
          w.rec === null &&
          w.checked &&
          w.product &&
          fw >= w.firmware &&
          api >= w.api &&
          i.build !== w.base &&
          // Only before anything was opened or wiped here, or behind a whole stock package that has started.
          (w.whole || (!w.opened && (w.store !== "clean" || c.clean))),
        {
          image: i.id,
          api,
          baseApi: api,
          base: i.build,
          patch: i.patch,
          firmware: fw,
          store: w.store === "clean" ? "workshop" : w.store,
          unpaid: false,
        },
        { hands: 3, alone: 20 + bytes / 2_000_000 / 60, bytes, good: 0.98 },
      );
    if (i.kind === "stock")
      can(
        !w.locked && fw >= w.firmware,
        {
          sys: "stock",
          image: i.id,
          api,
          baseApi: api,
          base: i.build,
          patch: i.patch,
          firmware: fw,
          rec: null,
          checked: true,
          product: true,
          addOn: false,
          store: "clean",
          up: "fresh",
          whole: true,
          unpaid: false,
        },
        { hands: 4, alone: Math.max(5, minutesOf(spread(i))), bytes, good: 0.97, wipes: 1 },
      );
    if (i.kind === "recovery")
      can(
        !w.locked && w.rec !== i.id && w.up !== "down",
        { rec: i.id, up: i.flavour === "rom" ? "down" : w.up, whole: false },
        { hands: 4, alone: 1, bytes, good: 0.98 },
      );
    if (i.kind === "rom") {
      const own = i.installs === "sideload";
      const fits = rec && (own ? rec.flavour === "rom" && rec.release === i.release : rec.flavour === "custom");
      const down = api < w.api && w.sys !== "stock" && !(c.policy.goingDown === "direct" && c.direct);
      can(
        !w.locked && Boolean(fits) && !down && !(w.image === i.id && w.up === "runs"),
        {
          sys: "custom",
          image: i.id,
          api,
          patch: i.patch,
          addOn: false,
          up: "fresh",
          whole: false,
          store: own ? "clean" : "format",
          unpaid: false,
        },
        { hands: own ? 6 : 7, alone: own ? 7 : 4, bytes, good: own ? 0.95 : 0.94, wipes: 1 },
      );
    }
    if (i.kind === "services")
      can(
        w.sys === "custom" &&
          w.up === "fresh" &&
          !w.addOn &&
          c.images.find((r) => r.id === w.image)?.release === i.release &&
          !c.images.find((r) => r.id === w.image)?.services,
        { addOn: true },
        { hands: 3, alone: 2, bytes, good: 0.98 },
      );
    if (i.kind === "verification")
      can(
        !w.locked &&
          w.checked &&
          w.base === i.build &&
          w.sys !== "custom" &&
          (c.policy.verificationOrder === "after") === (w.sys === "generic"),
        { checked: false, whole: false },
        { hands: 2, bytes, good: 0.99 },
      );
    if (i.kind === "gsi")
      can(
        !w.locked &&
          w.sys === "stock" &&
          rec?.flavour !== "rom" &&
          (w.up !== "down" || !w.product) &&
          api >= w.baseApi &&
          (!w.checked || c.policy.verificationOrder === "after") &&
          spread(i) <= ROOM + (w.product ? 0 : EXTRA),
        {
          sys: "generic",
          image: i.id,
          api,
          patch: i.patch,
          up: "fresh",
          whole: false,
          store: "format",
          unpaid: false,
        },
        { hands: 5, alone: Math.max(5, Math.min(15, minutesOf(spread(i)))), bytes, good: 0.92 },
      );
  }
  const starts = w.up === "runs";
  can(
    c.unlockable && w.locked && w.perm === 0 && starts,
    { perm: c.days > 0 ? 1 : 2, opened: true, unpaid: true },
    { hands: 3, good: 0.995 },
  );
  can(
    c.unlockable && w.locked && w.perm === 1 && starts,
    { perm: 2, opened: true, unpaid: true },
    { hands: 2, good: 0.99, days: c.days },
  );
  can(
    c.unlockable && w.locked && w.perm === 2 && starts,
    { locked: false, store: "clean", whole: false, opened: true, unpaid: true },
    { hands: 4, alone: 3, good: 0.99, wipes: 1, marks: MARKS.length },
  );
  can(
    c.product && !w.locked && w.product && w.sys !== "custom",
    { product: false, up: "down", whole: false },
    { hands: 2, good: 0.99 },
  );
  can(!w.locked && w.store === "format", { store: "clean" }, { hands: 2, alone: 1, good: 0.995, wipes: 1 });
  if (starts && (w.store === "donor" || w.store === "workshop"))
    // A reset leaves the device as it is.
    out.push([
      { ...w, store: "clean" },
      { hands: 4, alone: 8, good: 0.995, wipes: 1 },
    ]);
  can(
    w.up === "fresh" && w.sys === "stock" && w.store === "clean",
    { up: "runs", store: "workshop" },
    { hands: 6, alone: 5, good: 0.995 },
  );
  can(
    c.relock && c.policy.relock === "when-stock" && !w.locked && w.whole && w.sys === "stock" && starts,
    { locked: true, store: "clean" },
    { hands: 4, alone: 3, good: 0.99, wipes: 1 },
  );
  return out;
}

/** A device that can be handed over. */
function isDone(w: World, c: Case): boolean {
  if (w.store !== "clean" || w.up === "down" || w.unpaid) return false;
  if (w.sys === "stock") {
    const asMaker = w.up === "runs" && w.rec === null && w.checked && w.product;
    return asMaker && (!w.whole || w.locked || !(c.relock && c.policy.relock === "when-stock"));
  }
  if (w.sys === "generic") return w.up === "fresh" && !w.checked;
  if (!w.touched) return w.up === "runs";
  if (w.up !== "fresh") return false;
  const rom = c.images.find((i) => i.id === w.image);
  const lacks = c.services && !w.addOn && !rom?.services;
  return !(lacks && c.images.some((i) => i.kind === "services" && i.release === rom?.release));
}

/** What two ways are compared by, more being better. */
function worth(w: World, s: Spent, c: Case): number[] {
  const image = c.images.find((i) => i.id === w.image);
  const services = (image ? image.services : w.sys === "stock") || w.addOn;
  const integrity = w.sys === "stock" ? w.locked : (image?.integrity ?? false);
  const runs = w.api >= c.minApi && (!c.services || services) && (!c.integrity || integrity);
  const enough = !w.touched && runs && w.api >= c.minApi + c.policy.enoughMargin;
  return [
    Number(runs),
    Number(enough),
    w.api,
    Number((w.patch ?? "0").replaceAll("-", "")),
    -Math.round(s.hands * 10) / 10,
    -Math.round(s.alone * 10) / 10,
    -s.days,
    -s.bytes,
    Math.round(s.good * 1000) / 1000,
    -s.wipes,
    -s.marks,
  ].map((v) => v + 0);
}

const START: Spent = { hands: 0, alone: 0, days: 0, bytes: 0, good: 1, wipes: 0, marks: 0 };
const LONGEST = 10;

/** Ends of all orders of steps that never come back to a state, without those that another is as good as in everything. */
export function everyEnd(c: Case): number[][] {
  const found = new Map<string, number[]>();
  const been = new Set<string>();
  const walk = (w: World, s: Spent, depth: number) => {
    if (isDone(w, c)) {
      const value = worth(w, s, c);
      found.set(value.join(), value);
    }
    if (depth === LONGEST) return;
    const key = JSON.stringify(w);
    if (been.has(key)) return;
    been.add(key);
    for (const [to, cost] of next(w, c))
      walk(
        to,
        {
          hands: s.hands + (cost.hands ?? 0),
          alone: s.alone + (cost.alone ?? 0),
          days: s.days + (cost.days ?? 0),
          bytes: s.bytes + (cost.bytes ?? 0),
          good: s.good * (cost.good ?? 1),
          wipes: s.wipes + (cost.wipes ?? 0),
          marks: s.marks + (cost.marks ?? 0),
        },
        depth + 1,
      );
    been.delete(key);
  };
  walk(
    {
      sys: c.runs,
      image:
        c.images.find((i) => i.build === c.build && ["official-update", "stock", "rom"].includes(i.kind))?.id ?? null,
      api: c.api,
      patch: "2020-01-05",
      base: c.runs === "stock" ? c.build : null,
      baseApi: c.api,
      firmware: c.firmware,
      locked: c.locked,
      perm: c.granted ? 2 : 0,
      rec: null,
      store: c.clean ? "clean" : "donor",
      checked: true,
      addOn: false,
      product: true,
      up: "runs",
      whole: false,
      opened: false,
      touched: false,
      unpaid: false,
    },
    START,
    0,
  );
  const all = [...found.values()];
  return all.filter((a) => !all.some((b) => b !== a && b.every((v, i) => v >= a[i])));
}
