import { firstNeed } from "./firstNeed";

const ON = "2026-11-27";

test("a name and its apps, one a line, whatever stands between app and release", () => {
  const read = firstNeed("Reading room", "Messenger, 8.0\n\nBank: first, API 29\nMaps;30\nRadio\tAndroid 9", ON);
  expect(read).toMatchObject({
    ok: true,
    need: {
      id: "reading-room",
      name: "Reading room",
      apps: [
        { name: "Messenger", minApi: 26 },
        { name: "Bank: first", minApi: 29 },
        { name: "Maps", minApi: 30 },
        { name: "Radio", minApi: 28 },
      ],
    },
  });
});

test.each([
  ["", "Messenger, 8.0", "name", "Give the group a name"],
  ["Room", "  \n", "text", "at least"],
  ["Room", "Messenger", "text", "Line 1"],
  ["Room", "Messenger, 8.0\nBank, seventeen", "text", "Line 2"],
])("%j with %j: says which field, and what", (name, text, field, says) => {
  const read = firstNeed(name, text, ON);
  expect(read.ok ? "" : read.wrong[field as "name" | "text"]).toContain(says);
});
