import fc from "fast-check";
import PostalMime from "postal-mime";
import { anyText } from "~/testing/anyText";
import { writeEml } from "./eml";

const mail = {
  from: { name: "Ines Varro, Second Bench", address: "desk@secondbench.example" },
  to: { name: "Jörg Müller-Løvås", address: "joerg@mail.example" },
  subject: "Ihr gespendetes Gerät: bitte melden Sie sich ab (SF-14)",
  body: "Guten Tag,\n\n- SF-14: Vista 20\n  1. Erster Schritt …\n.\nEin Punkt allein.\n",
  at: "2026-11-25T09:00:00.000Z",
  language: "de",
};

// Published: RFC 5322, RFC 2045, RFC 2047; read back by postal-mime, a reader that shares no code with the writer.
test("a mail program reads what was written", async () => {
  const read = await PostalMime.parse(await writeEml(mail));
  expect(read.from).toMatchObject({ name: mail.from.name, address: mail.from.address });
  expect(read.to).toEqual([expect.objectContaining({ name: mail.to.name, address: mail.to.address })]);
  expect(read.subject).toBe(mail.subject);
  expect(read.text?.replace(/\r\n/g, "\n").trimEnd()).toBe(mail.body.trimEnd());
  expect(new Date(read.date ?? "").toISOString()).toBe(mail.at);
  expect(read.headers.find((h) => h.key === "x-unsent")?.value).toBe("1");
});

test("without an address it is a letter without a recipient, not a broken one", async () => {
  const read = await PostalMime.parse(await writeEml({ ...mail, to: { name: "Desk", address: "" } }));
  expect(read.to ?? []).toEqual([]);
});

test("no name, subject or address can begin another header or another recipient", async () => {
  const evil = fc
    .tuple(anyText(20), fc.constantFrom("\r\n", "\n", "\r", "\u2028", "\0\n", "\v"), fc.string({ maxLength: 20 }))
    .map(([a, end, b]) => `${a}${end}Bcc: thief@evil.example${end}${b}`);
  await fc.assert(
    fc.asyncProperty(evil, evil, async (name, subject) => {
      const raw = await writeEml({ ...mail, from: { ...mail.from, name }, to: { ...mail.to, name }, subject });
      const read = await PostalMime.parse(raw);
      expect(read.bcc ?? []).toEqual([]);
      expect(read.cc ?? []).toEqual([]);
      expect(read.to?.length).toBe(1);
      expect(raw.toString("latin1").split("\r\n\r\n")[0]).not.toMatch(/^bcc:/im);
    }),
    { numRuns: 60 },
  );
});
