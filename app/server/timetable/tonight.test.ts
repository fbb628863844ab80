import { addDays } from "date-fns";
import { dayOf, now } from "~/app/server/http/clock";
import { restsNow } from "~/app/server/jobs/beside";
import type { PlannedPiece } from "~/core/schedule/planned";
import { demoCopy } from "~/demo/demoCopy";
import { timetables } from "~/store/drafts";
import { tonightFor } from "./tonight";

const WHO = "Odile Farrow";
const at18 = (days: number) => (days * 24 + 18) * 60;
const hands = (device: string, from: number): PlannedPiece => ({
  device,
  from,
  to: from + 9,
  kind: "hands",
  title: "Look at the device",
  volunteer: WHO,
  bench: "Back room",
  steps: [0, 1],
});

/** Tonight, where these pieces were planned just now. */
function tonight(...pieces: readonly PlannedPiece[]) {
  const store = demoCopy();
  const at = now(store);
  const doc = {
    planned: { day: dayOf(at), pieces },
    odds: [],
    left: [],
    groupOf: {},
    rests: restsNow(store),
    says: "",
  };
  timetables.begin(store, "done", JSON.stringify(doc), { at: at.toISOString(), by: WHO });
  return { at, found: tonightFor(store, WHO, WHO, at) };
}

test("what is next today is told by the clock alone; what is planned for another day says on which", () => {
  const { at, found } = tonight(hands("TH-021", at18(0)), hands("TH-023", at18(5)));
  const then = dayOf(addDays(at, 5));
  expect(found?.next).toMatchObject({ device: "TH-021", begins: "18:00", ends: "18:09", on: null });
  expect(found?.later).toMatchObject([{ device: "TH-023", begins: "18:00", on: then }]);
  expect(tonight(hands("TH-023", at18(5))).found?.next).toMatchObject({ device: "TH-023", on: then });
});
