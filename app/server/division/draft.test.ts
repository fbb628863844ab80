import type { Division } from "~/core/allocate/divide";
import { type Draft, taken } from "./draft";

const division = { placed: [], proven: [] } as unknown as Division;
const begun = { division: null, whatIf: [], moved: null, rests: "", says: "" } as unknown as Draft;

test("a division is looked at as it gets better, told apart from its proof, and done with it", () => {
  const better = taken(begun, { is: "better", division });
  expect(better).toMatchObject({ done: false, doc: { division, proving: false } });
  const proving = taken(better.doc, { is: "proving", division });
  expect(proving).toMatchObject({ done: false, doc: { division, proving: true } });
  const whatIf = [{ is: "hands" }] as never;
  expect(taken(proving.doc, { is: "done", division, whatIf })).toMatchObject({
    done: true,
    doc: { proving: false, whatIf },
  });
});
