import { readReading } from "./read";

const form = (fields: Record<string, string>) => {
  const data = new FormData();
  for (const [k, v] of Object.entries(fields)) data.set(k, v);
  return data;
};
const found = { "was.sheet": "List", "was.heading": "3", sheet: "List", heading: "3" };

test("a heading that was found on another sheet, or with another separator, is looked for anew", () => {
  expect(readReading(form({ ...found, sheet: "Old" }))).toEqual({ sheet: "Old", carry: [] });
  const text = { "was.separator": ",", "was.heading": "1", heading: "1", separator: ";" };
  expect(readReading(form(text))).toEqual({ separator: ";", carry: [] });
});

test("a line that somebody wrote counts, and so does what was left as it is", () => {
  expect(readReading(form({ ...found, sheet: "Old", heading: "1" }))).toMatchObject({ sheet: "Old", heading: 1 });
  expect(readReading(form(found))).toMatchObject({ sheet: "List", heading: 3 });
  expect(readReading(form({ ...found, heading: "0" }))).toMatchObject({ heading: 0 });
  expect(readReading(form({ ...found, heading: "first" }))).toMatch(/number of the line/);
});
