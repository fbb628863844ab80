import fc from "fast-check";
import { anyText } from "~/testing/anyText";
import { LetterTemplate, oneLine, TEMPLATE_IDS, unknownVariables, writeLetter } from "./letter";
import { signOutSteps } from "./signOut";
import { SHIPPED_TEMPLATES } from "./templates";

const device = { tag: "AB-01", name: "Vista 20", api: 30, release: "11", held: true };
const wish = {
  kind: "ask" as const,
  language: "en" as const,
  plain: false,
  donor: "J. Sample",
  organisation: "The workshop",
  sender: "A. Writer",
  decideOn: "25 December 2026",
  devices: [device],
};

describe("the letters that ship", () => {
  test("one for every kind, language and plainness, each whole and with nothing unknown in it", () => {
    expect(Object.keys(SHIPPED_TEMPLATES).sort()).toEqual([...TEMPLATE_IDS].sort());
    for (const template of Object.values(SHIPPED_TEMPLATES)) {
      expect(LetterTemplate.parse(template)).toEqual(template);
      expect(unknownVariables(template)).toEqual([]);
    }
  });

  // Caution of the trade: a letter about an account lock never asks for a password and names no way round.
  test("every letter to an owner says that no password is wanted, and holds the day of decision", () => {
    for (const id of TEMPLATE_IDS.filter((t) => !t.startsWith("ask-issuer"))) {
      const { body } = writeLetter(SHIPPED_TEMPLATES[id], wish);
      expect(body).toMatch(/never send us a password|nie ein Passwort/);
      expect(body).toContain("25 December 2026");
      expect(body).not.toContain("{{");
    }
  });

  test("devices that take the same steps stand together", () => {
    const devices = [device, { ...device, tag: "AB-02" }, { ...device, tag: "AB-03", held: false }];
    const { body, subject } = writeLetter(SHIPPED_TEMPLATES["ask.en"], { ...wish, devices });
    expect(subject).toContain("AB-01, AB-02, AB-03");
    expect(body.match(/Restart the device once/g)).toHaveLength(1);
    expect(body.match(/come to our desk/g)).toHaveLength(1);
  });
});

describe("steps", () => {
  const steps = (api: number | null, held = true) => signOutSteps({ api, held, language: "en", plain: false });

  test("codes first, then sync, screen lock, accounts, restart, and the reset from the settings last", () => {
    const words = ["two-factor codes", "sync", "screen lock", "every account", "Restart", "Reset"];
    expect(steps(30)).toHaveLength(words.length);
    for (const [i, word] of words.entries()) expect(steps(30)[i]).toContain(word);
  });

  test("the path to the reset follows the Android version; unknown names both", () => {
    expect(steps(23)[5]).toContain("Backup & reset");
    expect(steps(30)[5]).toContain("Reset options");
    expect(steps(null)[5]).toMatch(/Reset options.*Backup & reset/);
  });

  test("a device that lies with us: only its owner, in person, or it is sent back", () => {
    expect(steps(30, false).join(" ")).toContain("Only you can take your account off it");
    for (const language of ["en", "de"] as const)
      for (const plain of [true, false])
        for (const held of [true, false])
          expect(signOutSteps({ api: 30, held, language, plain }).length).toBe(held ? 6 : 2);
  });
});

describe("variables", () => {
  test("what does not exist is named", () => {
    expect(unknownVariables({ subject: "{{ tags }}", body: "Dear {{name}}, {{constructor}} {{donor}}" })).toEqual([
      "name",
      "constructor",
    ]);
  });

  test("what a donor is called can't begin a line of its own, nor fill in another variable", () => {
    const evil = "X\r\nBcc: everyone@place.example {{sender}}";
    const { subject, body } = writeLetter(
      { subject: "For {{donor}}", body: "Dear {{donor}}, …" },
      { ...wish, donor: evil },
    );
    expect(subject).toBe("For X Bcc: everyone@place.example {{sender}}");
    expect(body).toContain("{{sender}}");
    fc.assert(fc.property(anyText(60), (text) => !/[\r\n\0\u2028\u2029]/.test(oneLine(text))));
  });
});

test("a device stands in a letter with its tag, its name and the Android on it, where that is known", () => {
  const template = { subject: "Devices", body: "{{devices}}" };
  const devices = [device, { ...device, tag: "AB-02", release: null }];
  expect(writeLetter(template, { ...wish, kind: "ask-issuer", devices }).body).toBe(
    "- AB-01: Vista 20, Android 11\n- AB-02: Vista 20",
  );
  expect(writeLetter(template, { ...wish, devices: [device] }).body).toMatch(
    /^- AB-01: Vista 20, Android 11\n {2}1\. /,
  );
});

test("a header is one line, without what stood round it", () => {
  expect(oneLine("\u0000 a\r\nBcc: b\u2028 ")).toBe("a Bcc: b");
});
