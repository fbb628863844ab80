import { data } from "react-router";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { takeReadOut, takeRoom } from "~/app/server/intake/takeReadOut";
import { catalogueOf, deviceName, plannedDevice } from "~/app/server/planning/planning";
import { AreaField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { HoldMark } from "~/app/ui/HoldMark";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { bytesText, timeText } from "~/app/ui/words";
import {
  fitRoom,
  type PartitionRoom,
  readRoom,
  roomCautions,
  roomOfSuper,
  slotEnding,
  systemRoom,
} from "~/core/android/room";
import { expandedBytes } from "~/core/catalogue/image";
import { currentValue } from "~/core/device/lookUp";
import { SuperContent } from "~/core/files/report";
import { findStanding } from "~/store/devices";
import { undoFacts } from "~/store/facts";
import { newestRoom, takeRoomBack } from "~/store/rooms";
import { inTransaction } from "~/store/transaction";
import type { Route } from "./+types/route";
import { partsOf, partsText, RoomBars } from "./RoomBar";

function standingOf(tag: string) {
  const standing = findStanding(db(), tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  return standing;
}

export function loader({ params }: Route.LoaderArgs) {
  const standing = standingOf(params.tag);
  const device = plannedDevice(db(), standing);
  const read = newestRoom(db(), standing.id);
  const slot = currentValue(device.facts, "slot.current") ?? null;
  const { model } = device;
  // Nothing was read yet: what the model's record says stands in, and is called so.
  const assumed: PartitionRoom | null = model && {
    from: "getvar",
    partitions: [
      { name: "system", bytes: model.room.system, logical: model.logical, group: null },
      ...(model.room.product === null
        ? []
        : [{ name: "product", bytes: model.room.product, logical: model.logical, group: null }]),
    ],
    groups: [],
    superBytes: null,
  };
  const room = read?.room ?? assumed;
  const ending = room ? slotEnding(room, slot) : "";
  const cpu = currentValue(device.facts, "cpu.arch") ?? model?.cpu ?? null;
  return {
    tag: standing.tag,
    name: deviceName(device),
    read: read && { at: read.at, by: read.by },
    slot,
    room,
    cautions: read ? roomCautions(read.room) : [],
    system: room && systemRoom(room, ending),
    without: room && systemRoom(room, ending, [`product${ending}`]),
    images: room
      ? catalogueOf(db())
          .images.filter((i) => i.kind === "gsi" && !i.withdrawn && (cpu === null || i.cpu === cpu))
          .map((i) => ({
            id: i.id,
            title: i.title,
            expanded: expandedBytes(i),
            answer: fitRoom(room, ending, expandedBytes(i)),
          }))
          .sort((a, b) => a.expanded - b.expanded)
      : [],
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const standing = standingOf(params.tag);
  const form = await readForm(request);
  const hand = handOf(request);
  const back = leadOn(`/devices/${standing.tag}/room`);
  if (form.get("do") === "undo") {
    const read = newestRoom(db(), standing.id);
    if (read)
      inTransaction(db(), () => {
        undoFacts(db(), standing.id, { at: read.at, by: read.by, source: "read" }, hand);
        takeRoomBack(db(), standing.id, hand);
      });
    return back;
  }
  const text = String(form.get("text") ?? "");
  const layout = String(form.get("layout") ?? "");
  const refuse = (says: string) => data({ text, says }, { status: 400 });
  if (layout) {
    let json: unknown = null;
    try {
      json = JSON.parse(layout);
    } catch {
      return refuse("This is no super layout");
    }
    const read = SuperContent.safeParse(json);
    if (!read.success) return refuse("This is no super layout");
    const wrong = takeRoom(db(), standing, roomOfSuper(read.data), hand);
    return wrong ? refuse(wrong) : back;
  }
  const room = readRoom(text);
  if (!room)
    return refuse(
      "This tells no size of a partition. Paste the whole output of “fastboot getvar all”, or of the layout tool (with its “Partition table”)",
    );
  const wrong = room.from === "getvar" ? takeReadOut(db(), standing, text, hand) : takeRoom(db(), standing, room, hand);
  return wrong ? refuse(wrong) : back;
}

const MARKS = {
  fits: ["yes", "fits"],
  "fits-after": ["yes", "fits after removing"],
  "does-not-fit": ["no", "does not fit"],
  unknown: ["unknown", "can't tell"],
} as const;

export default function DeviceRoom({ loaderData, actionData }: Route.ComponentProps) {
  const { tag, name, room, read, slot, cautions, images, system, without } = loaderData;
  const parts = room ? partsOf(room) : [];
  const taken = parts.reduce((sum, p) => sum + p.bytes, 0);
  const limit = Math.max(room?.superBytes ?? 0, taken, ...images.map((i) => i.expanded), system ?? 0, without ?? 0, 1);
  return (
    <>
      <title>{`Room of ${tag} · Upshift Lane`}</title>
      <p className="hint">
        <Link to={`/devices/${tag}`}>{tag}</Link>
      </p>
      <h1>
        Room for images{" "}
        <span className="font-normal text-soft">
          {tag}, {name}
        </span>
      </h1>
      <p className="my-2">
        {read
          ? `As read on ${timeText(read.at)} by ${read.by}${slot ? `, slot ${slot}` : ""}.`
          : room
            ? "Nothing was read from this device yet: these are the sizes of its model's record."
            : "The model is not known, and nothing was read from the device."}
      </p>
      {cautions.map((c) => (
        <Notice key={c} kind="caution">
          {c}.
        </Notice>
      ))}
      {room && system !== null && (
        <section className="sheet" aria-labelledby="bars">
          <h2 id="bars">
            {bytesText(system)} for a system
            {without !== null && without > system && `, ${bytesText(without)} once product is removed`}
          </h2>
          <div className="mt-2">
            <RoomBars
              title={`Partitions: ${partsText(parts)}. ${images.map((i) => `${i.title}: ${i.answer.says}`).join(". ")}`}
              limit={limit}
              lines={[
                { label: room.superBytes ? "What is in super now" : "What is there now", parts },
                ...images.map((i) => ({
                  label: `${i.title}, ${bytesText(i.expanded)}`,
                  parts: [{ name: "system", bytes: i.expanded }],
                  marks: [
                    { at: system, label: "room now" },
                    ...(without !== null && without > system ? [{ at: without, label: "without product" }] : []),
                  ],
                })),
              ]}
            />
          </div>
          <Scroll label="Images and their room" className="mt-2">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Generic image</th>
                  <th scope="col" className="n">
                    Needs, MiB
                  </th>
                  <th scope="col" className="n">
                    Room, MiB
                  </th>
                  <th scope="col">Answer</th>
                </tr>
              </thead>
              <tbody>
                {images.map((i) => (
                  <tr key={i.id}>
                    <td>
                      <Link to={`/images/${i.id}`}>{i.title}</Link>
                    </td>
                    <td className="n">{Math.ceil(i.expanded / 1_048_576).toLocaleString("en")}</td>
                    <td className="n">{Math.floor(i.answer.room / 1_048_576).toLocaleString("en")}</td>
                    <td>
                      <HoldMark is={MARKS[i.answer.is][0]} word={MARKS[i.answer.is][1]} /> {i.answer.says}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          <p className="hint mt-2">
            The planner counts with these numbers. It removes product only; system_ext is somebody's own decision. What
            is removed comes back with the stock package.
          </p>
        </section>
      )}
      <Form method="post" className="sheet mt-4 max-w-3xl space-y-2" preventScrollReset>
        <h2>Read the partitions</h2>
        {actionData && <Notice kind="wrong">{actionData.says}. Nothing was saved.</Notice>}
        <AreaField
          label="Output of “fastboot getvar all”, or of the layout tool"
          name="text"
          rows={5}
          mono
          spellCheck={false}
          key={actionData?.text}
          defaultValue={actionData?.text}
          hint="A super layout file can be dropped on the Files page instead, held against this device."
        />
        <div className="flex flex-wrap gap-2">
          <button type="submit" className="btn-main">
            Keep it
          </button>
          <Link to={`/files?device=${tag}`} className="btn">
            Files
          </Link>
          {read && (
            <button type="submit" name="do" value="undo" className="btn">
              Take the last reading back
            </button>
          )}
        </div>
      </Form>
    </>
  );
}
