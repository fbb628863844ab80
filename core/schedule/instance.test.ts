import { InstanceError, readInstance } from "./instance";

const problemsIn = (text: string): readonly string[] => {
  try {
    readInstance(text);
  } catch (error) {
    if (error instanceof InstanceError) return error.problems;
    throw error;
  }
  return [];
};

const written = (parts: object) => JSON.stringify({ resources: [{ id: "hands", capacity: 1 }], tasks: [], ...parts });

test("reads an instance, with what may be left out left out", () => {
  expect(readInstance(written({ tasks: [{ id: "a", minutes: 5 }] }))).toEqual({
    aim: "makespan",
    resources: [{ id: "hands", capacity: 1 }],
    tasks: [{ id: "a", minutes: 5, uses: [], after: [] }],
  });
});

test("a byte order mark in front is not part of it", () => {
  expect(problemsIn(`\uFEFF${written({})}`)).toEqual([]);
});

test.each([
  ["text that is not JSON", "tasks: 3", /not JSON/],
  ["an empty file", "", /not JSON/],
  ["a list instead of an instance", "[]", /the file: /],
  ["minutes below 0", written({ tasks: [{ id: "a", minutes: -1 }] }), /tasks\.0\.minutes/],
  ["minutes as text", written({ tasks: [{ id: "a", minutes: "5" }] }), /tasks\.0\.minutes/],
  ["an aim nobody knows", written({ aim: "beauty" }), /aim/],
  [
    "a task that is there twice",
    written({
      tasks: [
        { id: "a", minutes: 1 },
        { id: "a", minutes: 1 },
      ],
    }),
    /“a” is there twice/,
  ],
  ["a forerunner that is not there", written({ tasks: [{ id: "a", minutes: 1, after: ["b"] }] }), /after “b”/],
  [
    "a resource that is not there",
    written({ tasks: [{ id: "a", minutes: 1, uses: [{ resource: "lead", amount: 1 }] }] }),
    /uses “lead”, which is not among/,
  ],
  [
    "more than there is, told with how much is missing",
    written({ tasks: [{ id: "a", minutes: 1, uses: [{ resource: "hands", amount: 3 }] }] }),
    /would need 2 more/,
  ],
  [
    "a resource named twice in one task, added up",
    written({
      tasks: [
        {
          id: "a",
          minutes: 1,
          uses: [
            { resource: "hands", amount: 1 },
            { resource: "hands", amount: 1 },
          ],
        },
      ],
    }),
    /uses 2 of “hands”/,
  ],
  [
    "an amount that could only be rounded",
    written({ tasks: [{ id: "a", minutes: 1, uses: [{ resource: "hands", amount: 1e-9 }] }] }),
    /uses of “hands” is 1e-9/,
  ],
  ["more minutes than can be counted", written({ tasks: [{ id: "a", minutes: 1e308 }] }), /larger unit/],
  [
    "weights that can't be counted",
    written({ tasks: [{ id: "a", minutes: 2, due: 1, weight: 1e300 }] }),
    /late, times its weight/,
  ],
  ["an id that is no text", written({ tasks: [{ id: true, minutes: 1 }] }), /tasks\.0\.id: an id is a text/],
  ["a task that waits for itself", written({ tasks: [{ id: "a", minutes: 1, after: ["a"] }] }), /a → a$/],
])("refuses %s", (_, text, says) => {
  expect(problemsIn(text).join("\n")).toMatch(says);
});

test("numbered tasks stay numbers, and nothing said of when it is due is nothing", () => {
  const tasks = [
    { id: 1, minutes: 0.000001, due: null, weight: null },
    { id: "1", minutes: 123_456_789.05, after: [1] },
  ];
  const read = readInstance(written({ tasks }));
  expect(read.tasks.map(({ id, due, after }) => ({ id, due, after }))).toEqual([
    { id: 1, due: undefined, after: [] },
    { id: "1", due: undefined, after: [1] },
  ]);
});

test("names a ring of tasks in its order", () => {
  const tasks = [
    { id: "a", minutes: 1, after: ["c"] },
    { id: "b", minutes: 1, after: ["a"] },
    { id: "c", minutes: 1, after: ["b"] },
    { id: "d", minutes: 1, after: ["a"] },
  ];
  const [problem] = problemsIn(written({ tasks }));
  const ring = problem.split(": ")[1].split(" → ");
  expect(ring[0]).toBe(ring[3]);
  // Each one named waits for the one before it.
  for (let k = 1; k < ring.length; k++) expect(tasks.find(({ id }) => id === ring[k])?.after).toEqual([ring[k - 1]]);
});

test("a chain of many thousand tasks is read without overflowing", () => {
  const tasks = Array.from({ length: 20_000 }, (_, k) => ({
    id: String(k),
    minutes: 1,
    after: k < 19_999 ? [String(k + 1)] : [],
  }));
  expect(problemsIn(written({ tasks }))).toEqual([]);
});

test("of very many problems the first are told, and how many more there are", () => {
  const tasks = Array.from({ length: 100 }, (_, k) => ({ id: String(k), minutes: 1, after: ["x"] }));
  const problems = problemsIn(written({ tasks }));
  expect(problems).toHaveLength(21);
  expect(problems[20]).toBe("and 80 more");
});
