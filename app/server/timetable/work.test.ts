import { demoCopy } from "~/demo/demoCopy";
import { gatherWork } from "./work";

test("the minute that runs still counts: work that is planned for it is not put off", () => {
  const nowAt = (clock: string) => gatherWork(demoCopy(), new Date(`2026-11-26T${clock}`)).work.now;
  expect([nowAt("18:00:00"), nowAt("18:00:40"), nowAt("18:01:00")]).toEqual([1080, 1080, 1081]);
});
