import { demoCopy } from "~/demo/demoCopy";
import { findStanding } from "~/store/devices";
import { findDonor, saveDonor } from "~/store/donors";
import { newestLetters } from "~/store/letters";
import { askThem } from "./act";

const hand = { by: "Ines Varro", at: "2026-11-25T09:00:00.000Z" };

/** The form as the page sends it: one row per donor, in its order. */
function form(
  rows: readonly {
    name: string;
    on?: boolean;
    channel?: string;
    language?: string;
    plain?: boolean;
    held?: string[];
  }[],
) {
  const data = new FormData();
  rows.forEach((row, i) => {
    data.append("name", row.name);
    if (row.on !== false) data.append("donor", row.name);
    data.append(`channel.${i}`, row.channel ?? "email");
    data.append(`language.${i}`, row.language ?? "en");
    if (row.plain) data.append(`plain.${i}`, "yes");
    for (const tag of row.held ?? []) data.append(`held.${i}`, tag);
  });
  return data;
}

test("only ticked donors are written to, each as chosen", () => {
  const store = demoCopy();
  const rows = [
    { name: "Bo Hallam", on: false },
    { name: "Ilse Brandt", language: "de", plain: true, held: ["SF-15"] },
    { name: "Tove Lind", channel: "phone" },
  ];
  expect(askThem(store, "ask", form(rows), hand)).toBe(2);
  const [tove, ilse] = newestLetters(store, 5);
  expect(newestLetters(store, 5)).toHaveLength(2);
  expect(ilse).toMatchObject({ donor: "Ilse Brandt", language: "de", how: "outbox", tags: ["SF-14", "SF-15"] });
  // One device lies with us, the other with her: both sets of steps, in plain language.
  expect(ilse.body).toContain("Wir haben das Gerät.");
  expect(ilse.body).toContain("Schalten Sie das Gerät aus und wieder ein.");
  expect(tove).toMatchObject({ how: "copied", recipient: findDonor(store, "Tove Lind").phone });
  expect(findStanding(store, "SF-24")?.clearance).toBe("present");
  expect(findStanding(store, "SF-21")?.clearance).toBe("asked");
});

test("nobody ticked, a way or language that is none, no address: said in words, nothing sent to anybody", () => {
  const store = demoCopy();
  const refuse = (rows: Parameters<typeof form>[0], says: string) =>
    expect(askThem(store, "ask", form(rows), hand)).toEqual(expect.stringContaining(says));
  refuse([{ name: "Bo Hallam", on: false }], "Tick at least one donor");
  refuse([{ name: "Bo Hallam", channel: "pigeon" }], "Bo Hallam: choose a language and a way");
  refuse([{ name: "Bo Hallam", language: "xx" }], "Bo Hallam: choose a language and a way");
  const { version, erased: _, name, ...contact } = findDonor(store, "Bo Hallam");
  saveDonor(store, name, { ...contact, email: "" }, version, hand);
  refuse([{ name: "Omar Feld" }, { name: "Bo Hallam" }], "Bo Hallam: no e-mail address is written down");
  expect(newestLetters(store, 5)).toEqual([]);
});

test("written to by somebody else in the meantime: told, and not twice", () => {
  const store = demoCopy();
  expect(askThem(store, "ask", form([{ name: "Omar Feld" }]), hand)).toBe(1);
  expect(askThem(store, "ask", form([{ name: "Omar Feld" }]), hand)).toEqual(
    expect.stringContaining("written already"),
  );
  expect(newestLetters(store, 5)).toHaveLength(1);
});
