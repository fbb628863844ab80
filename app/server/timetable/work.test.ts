import { placedDevices } from "~/app/server/planning/lane";
import { demoCopy } from "~/demo/demoCopy";
import { changeGroup, listGroups } from "~/store/evenings";
import { gatherWork } from "./work";

test("the minute that runs still counts: work that is planned for it is not put off", () => {
  const nowAt = (clock: string) => gatherWork(demoCopy(), new Date(`2026-11-26T${clock}`)).work.now;
  expect([nowAt("18:00:00"), nowAt("18:00:40"), nowAt("18:01:00")]).toEqual([1080, 1080, 1081]);
});

test("a device that waits for its checkout is work that is left, also where no group waits for it", () => {
  const store = demoCopy();
  const waiting = placedDevices(store, null).filter(({ station }) => station === "checkout");
  const { work, groupOf } = gatherWork(store, new Date("2026-11-26T18:00:00"));
  const tags = waiting.map(({ standing }) => standing.tag);
  const forNobody = tags.filter((tag) => !(tag in groupOf));
  expect(forNobody.length).toBeGreaterThan(0);
  expect(work.jobs.filter(({ device }) => tags.includes(device))).toEqual(
    tags.map((device) => expect.objectContaining({ device, pieces: [] })),
  );
});

test("a group whose day is over still waits: its odds say by which day the rest could come; one that is closed does not", () => {
  const store = demoCopy();
  const asked = (day: string) => gatherWork(store, new Date(`${day}T09:00:00`)).groups.map(({ id }) => id);
  const all = listGroups(store);
  expect(asked("2027-03-01")).toEqual(all.map(({ id }) => String(id)));
  const [{ id, version, ...first }] = all;
  changeGroup(store, { id, version, closed: true }, first, { by: "test", at: "2026-11-25T10:00:00.000Z" });
  expect(asked("2026-11-25")).toEqual(all.slice(1).map((group) => String(group.id)));
});
