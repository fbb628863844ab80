import ICAL from "ical.js";
import { placedDevices } from "~/app/server/planning/lane";
import { laneStops } from "~/app/server/planning/laneStops";
import { plannedDevice } from "~/app/server/planning/planning";
import { demoCopy } from "~/demo/demoCopy";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { changesOfDonor, findDonor, saveDonor, undoDonor } from "~/store/donors";
import { findLetter, newestLetters, readTemplates, saveTemplate } from "~/store/letters";
import { readPolicy, savePolicy } from "~/store/policy";
import { writeCalendar } from "./calendar";
import { casesOf, lockOf } from "./cases";
import { clearByOf } from "./clearBy";
import { openDues } from "./dues";
import { askGroups, sendLetters, takeLetterBack, writtenDay } from "./letters";
import { openByAge } from "./openCases";
import { sweep, sweepDaily } from "./retention";

const at = (day: string) => new Date(`${day}T09:00:00.000Z`);
const TODAY = at("2026-11-25");
const hand = { by: "Ines Varro", at: TODAY.toISOString() };
const order = (donor: string) => ({
  kind: "ask" as const,
  donor,
  language: "en" as const,
  plain: false,
  held: new Set<string>(),
  channel: "email" as const,
  how: "outbox" as const,
});
const state = (store: Store, tag: string) => findStanding(store, tag)?.clearance;

describe("writing to donors", () => {
  test("ten donors and more are asked in one go: one letter each, every case moved on", () => {
    const store = demoCopy();
    const groups = askGroups(store, "ask", TODAY);
    expect(groups.length).toBeGreaterThanOrEqual(10);
    expect(groups.find((g) => g.donor.name === "Ilse Brandt")?.devices.map((d) => d.tag)).toEqual(["SF-14", "SF-15"]);
    const sent = sendLetters(
      store,
      "ask",
      groups.map((g) => order(g.donor.name)),
      hand,
    );
    expect(sent).toHaveLength(groups.length);
    for (const group of groups) for (const { tag } of group.devices) expect(state(store, tag)).toBe("asked");
    expect(askGroups(store, "ask", TODAY)).toEqual([]);
    const letter = newestLetters(store, 50).find((l) => l.donor === "Ilse Brandt");
    expect(letter).toMatchObject({ tags: ["SF-14", "SF-15"], recipient: "ilse.brandt@mail.example" });
    expect(letter?.body).toContain("25 December 2026");
  });

  test("one donor who can't be written to any more: nothing is sent to anybody", () => {
    const store = demoCopy();
    expect(sendLetters(store, "ask", [order("Ilse Brandt"), order("Nobody")], hand)).toContain("Nothing was sent");
    expect(newestLetters(store, 5)).toEqual([]);
    expect(state(store, "SF-14")).toBe("present");
  });

  test("a letter that did not go out is taken back where nothing happened since", () => {
    const store = demoCopy();
    const [id] = sendLetters(store, "ask", [order("Ilse Brandt")], hand) as number[];
    const device = plannedDevice(store, findStanding(store, "SF-15") as never);
    const seen = clearanceEvents(store, device.standing.id).at(-1)?.id as number;
    appendClearance(store, "SF-15", { event: "promised", evidence: "", seen, lock: lockOf(device) }, hand);
    expect(takeLetterBack(store, id, hand)).toEqual(["SF-14"]);
    expect([state(store, "SF-14"), state(store, "SF-15")]).toEqual(["present", "promised"]);
    expect(takeLetterBack(store, id, hand)).toEqual([]);
  });

  test("reminders and releases go to those whose day has come", () => {
    const store = demoCopy();
    const names = (kind: "remind" | "ask-issuer", day: string) =>
      askGroups(store, kind, at(day)).map((g) => g.donor.name);
    expect(names("remind", "2026-11-25")).toEqual(["Drop-off desk", "Kofi Mensah-Bright", "Pia Lorenz", "Wim Astor"]);
    expect(names("ask-issuer", "2026-11-25")).toEqual(["Northbay shop", "Rivergate school"]);
  });

  test("an edited text is used, survives a second editor, and the one that ships comes back", () => {
    const store = demoCopy();
    const own = { subject: "Please, {{donor}}", body: "Dear {{donor}}, please sign out of {{tags}}." };
    saveTemplate(store, "ask.en", own, 0, hand);
    expect(() => saveTemplate(store, "ask.en", own, 0, hand)).toThrow("somebody else");
    sendLetters(store, "ask", [order("Omar Feld")], hand);
    expect(newestLetters(store, 1)[0].subject).toBe("Please, Omar Feld");
    saveTemplate(store, "ask.en", null, 1, hand);
    expect(readTemplates(store).get("ask.en")).toMatchObject({ version: 0 });
  });
});

test("a contact goes back to what it was, and what it was is erased with it", () => {
  const store = demoCopy();
  const { version, erased: _, name, ...contact } = findDonor(store, "Jana Kessing");
  saveDonor(store, name, { ...contact, email: "typo@mail.example" }, version, hand);
  expect(undoDonor(store, name, hand)).toBeNull();
  expect(findDonor(store, name).email).toBe(contact.email);
  sweep(store, at("2027-03-01"));
  expect(changesOfDonor(store, name).map((c) => c.was)).toEqual([null, null, null]);
  expect(undoDonor(store, name, hand)).toContain("no earlier contact");
  expect(findDonor(store, name).email).toBe("");
});

describe("what is due", () => {
  test("the due list follows the policy, and the lane is marked", () => {
    const store = demoCopy();
    const due = (tag: string, day: string) => openDues(store, at(day)).find((d) => d.device.standing.tag === tag)?.due;
    expect(due("SF-26", "2026-11-25")).toMatchObject({ kind: "decide", daysOver: 2 });
    expect(due("SF-28", "2026-11-25")).toMatchObject({ kind: "remind", on: "2026-11-24", daysOver: 1 });
    expect(due("SF-29", "2026-11-25")).toMatchObject({ kind: "promise", on: "2026-11-24" });
    expect(laneStops(store, TODAY).find((s) => s.to === "/clearance")?.overdue).toBe(true);
    const { policy, version } = readPolicy(store);
    savePolicy(store, { ...policy, followUp: { ...policy.followUp, remindAfter: 10 } }, version, hand);
    expect(due("SF-28", "2026-11-25")).toMatchObject({ kind: "remind", on: "2026-11-27", daysOver: -2 });
  });

  test("ten donors asked today are to be reminded in a week", () => {
    const store = demoCopy();
    const groups = askGroups(store, "ask", TODAY);
    sendLetters(
      store,
      "ask",
      groups.map((g) => order(g.donor.name)),
      hand,
    );
    const tags = groups.flatMap((g) => g.devices.map((d) => d.tag));
    const due = (day: string) =>
      openDues(store, at(day))
        .filter((d) => d.due.kind === "remind" && d.due.daysOver >= 0)
        .map((d) => d.device.standing.tag);
    expect(due("2026-12-01").filter((t) => tags.includes(t))).toEqual([]);
    expect(
      due("2026-12-02")
        .filter((t) => tags.includes(t))
        .sort(),
    ).toEqual([...tags].sort());
  });

  test("set aside is not due, and open cases are counted by age", () => {
    const store = demoCopy();
    expect(openDues(store, TODAY).some((d) => d.device.standing.tag === "SF-38")).toBe(false);
    const rows = openByAge(store, null, TODAY);
    expect(rows.find((r) => r.state === "asked")?.ages).toEqual([0, 3, 0, 1]);
    const open = placedDevices(store, null).filter((d) => d.station === "clearance").length;
    expect(rows.flatMap((r) => r.ages).reduce((a, b) => a + b)).toBe(open);
  });

  // Published: RFC 5545; read back by ical.js, the reference reader that calendar programs use.
  test("the calendar is read by ical.js: all-day entries, stable names, what is late stands on today", () => {
    const store = demoCopy();
    const dues = openDues(store, TODAY);
    const calendar = new ICAL.Component(ICAL.parse(writeCalendar(dues, "2026-11-25", TODAY)));
    const events = calendar.getAllSubcomponents("vevent").map((e) => new ICAL.Event(e));
    expect(events.every((e) => e.startDate.isDate)).toBe(true);
    expect(events.every((e) => e.startDate.toString() >= "2026-11-25")).toBe(true);
    const tags = events.flatMap((e) => e.description.split(", "));
    expect(tags.sort()).toEqual(dues.map((d) => d.device.standing.tag).sort());
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
    expect(calendar.getFirstPropertyValue("version")).toBe("2.0");
  });
});

describe("when they may be clear", () => {
  test("figures rest on finished and open askings, one per donor", () => {
    const { times, clear, lost, waiting, devices, points } = clearByOf(demoCopy(), "2026-10-families", TODAY);
    expect(clear + lost + waiting).toBe(devices);
    expect(times[0]).toMatchObject({ channel: "all", asked: 23, answered: 15 });
    expect(times.find((t) => t.channel === "desk")).toMatchObject({ asked: 5, answered: 4, median: 1, eighty: 1 });
    expect(points[0].expected).toBe(clear);
    expect(points.at(-1)?.expected).toBeGreaterThan(clear + waiting / 2);
  });
});

describe("retention", () => {
  const close = (store: Store, tag: string, day: string) => {
    const device = plannedDevice(store, findStanding(store, tag) as never);
    const { newest } = casesOf(store)(device.standing.id);
    const detail = { proofs: ["signed-out" as const, "set-up-clean" as const] };
    const move = { event: "confirmed-clear" as const, evidence: "at the desk", detail, seen: newest };
    const when = { ...hand, at: at(day).toISOString() };
    expect(appendClearance(store, tag, { ...move, lock: lockOf(device) }, when)).toBeNull();
  };

  test("the contact goes sixty days after the donor's last case has closed; that they were asked stays", () => {
    const store = demoCopy();
    const [id] = sendLetters(store, "ask", [order("Ilse Brandt")], hand) as number[];
    close(store, "SF-14", "2026-11-26");
    expect(sweep(store, at("2027-06-01"))).not.toContain("Ilse Brandt");
    close(store, "SF-15", "2026-12-01");
    expect(sweep(store, at("2027-01-29"))).not.toContain("Ilse Brandt");
    expect(sweep(store, at("2027-01-31"))).toContain("Ilse Brandt");
    expect(findDonor(store, "Ilse Brandt")).toMatchObject({ email: "", phone: "", erased: expect.any(String) });
    expect(findLetter(store, id)).toMatchObject({ recipient: "", body: "", tags: ["SF-14", "SF-15"] });
    expect(clearanceEvents(store, findStanding(store, "SF-14")?.id as number).map((e) => e.event)).toContain(
      "asked-owner",
    );
  });

  test("once a day is enough", () => {
    const store = demoCopy();
    sweepDaily(store, "/nowhere", at("2027-03-01"));
    expect(findDonor(store, "Jana Kessing").erased).not.toBeNull();
    saveDonor(
      store,
      "Jana Kessing",
      { email: "j@mail.example", phone: "", channel: "email", language: "en", plain: false },
      2,
      hand,
    );
    sweepDaily(store, "/nowhere", at("2027-03-01"));
    expect(findDonor(store, "Jana Kessing").email).toBe("j@mail.example");
    sweepDaily(store, "/nowhere", at("2027-03-02"));
    expect(findDonor(store, "Jana Kessing").email).toBe("");
  });
});

test("a day is written as its language writes it", () => {
  const day = new Date(2026, 11, 4, 12);
  expect((["en", "de"] as const).map((language) => writtenDay(day, language))).toEqual([
    "4 December 2026",
    "4. Dezember 2026",
  ]);
});
