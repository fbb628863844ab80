import { chanceInWords, type GroupLetter, groupLetter } from "./groupLetter";

test("a chance is never said as certain, nor as none", () => {
  expect([0.85, 0.999, 1, 0.994, 0, 0.004, 0.006].map((chance) => chanceInWords(chance))).toEqual([
    "in 85 of 100 such cases",
    "in more than 99 of 100 such cases",
    "in more than 99 of 100 such cases",
    "in 99 of 100 such cases",
    "in fewer than 1 of 100 such cases",
    "in fewer than 1 of 100 such cases",
    "in 1 of 100 such cases",
  ]);
});

const letter: GroupLetter = {
  group: "Advice centre",
  organisation: "Second Bench",
  sender: "Odile",
  wanted: 10,
  count: 8,
  day: "14 Dec 2026",
  sure: "17 Dec 2026",
  chance: 0.85,
  played: true,
  kinds: [{ name: "Lume, Android 13", count: 7 }],
  uncleared: 3,
  holdsUp: "clearance",
};

test("the letter says what, by when, how sure, what is not theirs to promise, and what may come between", () => {
  const { subject, body } = groupLetter(letter, "en");
  expect(subject).toBe("8 of the 10 devices you asked for, by 14 Dec 2026");
  for (const part of [
    "8 of them by 14 Dec 2026",
    "in 85 of 100 such cases",
    "Nine times in ten it is done by 17 Dec 2026",
    "- 7 × Lume, Android 13",
    "3 of them still wait for a former owner",
    "former owners who have not answered",
    "our benches and our volunteers",
  ])
    expect(body).toContain(part);
});

const plain: GroupLetter = { ...letter, count: 10, uncleared: 0, holdsUp: null, sure: null, kinds: [], played: false };

test("what is not so is not in it", () => {
  const { body } = groupLetter(plain, "en");
  expect(body).toContain("all 10 by");
  expect(body).not.toMatch(/former owner|hold it up|Nine times|meant for you|volunteers/);
});

test("the same in German, number for number", () => {
  const numbers = (text: string) => text.match(/\d+/g);
  for (const each of [letter, plain, { ...letter, wanted: 1, count: 1, uncleared: 1 }]) {
    const [en, de] = (["en", "de"] as const).map((language) => groupLetter(each, language));
    expect(numbers(de.body)).toEqual(numbers(en.body));
    expect(de.body.split("\n\n")).toHaveLength(en.body.split("\n\n").length);
    expect(de.body).not.toMatch(/\b(the|of|you|we)\b/);
  }
  expect(groupLetter(letter, "de").subject).toBe("8 der 10 Geräte, um die Sie gebeten haben, bis zum 14 Dec 2026");
});
