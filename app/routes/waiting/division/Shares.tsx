import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useId } from "react";
import { useSubmit } from "react-router";
import { rowByRow, rowUnder } from "~/app/ui/carryRows";
import { carryWords } from "~/app/ui/carryWords";
import { ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { useMay } from "~/app/ui/useMay";
import { allText, chanceText, countText, dateText } from "~/app/ui/words";
import type { ShownDraft } from "./shown";

type Share = NonNullable<ShownDraft["shares"]>[number];
/** Where a device is put, as forms name it: a group by its id, the reserve, or never with a group. */
export const RESERVE = "reserve";
export const NEVER = "never ";
/** So many devices of a cell, and of the reserve, are seen without unfolding; so few more are not worth it. */
const IN_CELL = 3;
const IN_RESERVE = 24;
const FEW_MORE = 3;

/** Groups against models: how many of which go to whom; every device can be taken up and put elsewhere. */
export function Shares({ draft }: { draft: ShownDraft }) {
  const { shares, models, reserve } = draft;
  const submit = useSubmit();
  const may = useMay();
  const id = useId();
  const sensors = useSensors(
    // A click is no move: it opens the device.
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: rowByRow }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.data.current?.from === over.id) return;
    submit({ what: "move", device: String(active.id), to: String(over.id) }, { method: "post" });
  };
  if (!shares) return null;
  const words = carryWords({
    thing: String,
    place: (to) => shares.find(({ group }) => group === to)?.name ?? "the reserve",
    how: "Space takes a device up, the arrow keys carry it to another row, space puts it there, Escape leaves it.",
  });
  return (
    <DndContext
      id={id}
      accessibility={words}
      sensors={may("POST") ? sensors : []}
      collisionDetection={rowUnder}
      onDragEnd={drop}
    >
      <Scroll label="Groups against models">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Group</th>
              <th scope="col">Ready on the day</th>
              {models.map((model) => (
                <th key={model.id} scope="col">
                  {model.title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shares.map((share) => (
              <Row key={share.group} share={share} models={models} />
            ))}
            <Reserve reserve={reserve} columns={models.length + 2} />
          </tbody>
        </table>
      </Scroll>
      <MoveForm draft={draft} />
    </DndContext>
  );
}

function Row({ share, models }: { share: Share; models: ShownDraft["models"] }) {
  const { setNodeRef, isOver } = useDroppable({ id: share.group });
  return (
    <tr ref={setNodeRef} className={isOver ? "bg-lane-wash" : undefined}>
      <th scope="row" className="min-w-36 text-left align-top">
        <Link to={`/groups/${share.group}`} className="font-bold">
          {share.name}
        </Link>
        <span className="hint block">
          {share.wanted} by {dateText(share.by)}
        </span>
      </th>
      <td className="align-top text-sm">
        <span className="block whitespace-nowrap">
          <span className="text-base font-bold tabular-nums">{share.expected.toFixed(1)}</span> of{" "}
          {countText(share.placed, "device")}
        </span>
        <span className="block whitespace-nowrap">
          {share.least} or more: {chanceText(share.leastChance)}
        </span>
        <span className={`block ${share.met ? "hint" : "text-signal font-bold"}`}>{share.met ? "met" : "not met"}</span>
        <span className="block whitespace-nowrap">all: {allText(share.wanted, share.placed, share.allChance)}</span>
      </td>
      {models.map(({ id }) => {
        const here = share.devices.filter(({ model }) => model === id);
        return (
          <td key={id} className="align-top">
            {here.length > 0 && (
              <>
                <span className="font-bold tabular-nums">{here.length}</span>
                <Chips chips={here.map((device) => ({ ...device, from: share.group }))} most={IN_CELL} />
              </>
            )}
          </td>
        );
      })}
    </tr>
  );
}

function Reserve({ reserve, columns }: { reserve: ShownDraft["reserve"]; columns: number }) {
  const { setNodeRef, isOver } = useDroppable({ id: RESERVE });
  return (
    <tr ref={setNodeRef} className={isOver ? "bg-lane-wash" : undefined}>
      <th scope="row" className="text-left align-top">
        Reserve
        <span className="hint block">goes to nobody yet</span>
      </th>
      <td colSpan={columns - 1}>
        {reserve.length === 0 && "none"}
        <Chips chips={reserve.map(({ device }) => ({ device, from: RESERVE }))} most={IN_RESERVE} isWide />
      </td>
    </tr>
  );
}

type ChipProps = {
  readonly device: string;
  readonly from: string;
  readonly chance?: number;
  readonly cleared?: boolean;
  readonly pinned?: boolean;
  /** A promise rests on it. */
  readonly promised?: boolean;
  readonly pilot?: boolean;
};

/** Devices of one place; where there are more than can be taken in at a glance, those about which there is something to say, and the others unfolded. */
function Chips({ chips, most, isWide }: { chips: readonly ChipProps[]; most: number; isWide?: boolean }) {
  const hasMark = (chip: ChipProps) => Boolean(chip.pilot || chip.promised || chip.pinned || chip.cleared === false);
  const folds = chips.length > most + FEW_MORE;
  const sorted = folds ? [...chips].sort((a, b) => Number(hasMark(b)) - Number(hasMark(a))) : chips;
  const shown = folds ? sorted.slice(0, most) : sorted;
  const list = (some: readonly ChipProps[]) => (
    <span className={`mt-1 flex gap-1 ${isWide ? "flex-wrap" : "flex-col items-start"}`}>
      {some.map((chip) => (
        <Chip key={chip.device} {...chip} />
      ))}
    </span>
  );
  return (
    <>
      {list(shown)}
      {folds && (
        <details className="mt-1">
          <summary className="cursor-pointer text-sm whitespace-nowrap">{chips.length - most} more</summary>
          {list(sorted.slice(most))}
        </details>
      )}
    </>
  );
}

/** A device that can be taken up: with the mouse, or with space and the arrow keys. */
function Chip({ device, from, chance, cleared = true, pinned = false, promised = false, pilot = false }: ChipProps) {
  const { attributes, listeners, setNodeRef, transform } = useDraggable({ id: device, data: { from } });
  const marks = [pilot && "pilot", promised ? "promised" : pinned && "pinned", !cleared && "not cleared"]
    .filter(Boolean)
    .join(", ");
  return (
    <button
      type="button"
      ref={setNodeRef}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 20 } : undefined}
      className={`relative rounded-md border bg-paper px-1.5 py-0.5 text-left text-sm ${cleared ? "border-lane" : "border-dashed border-signal"}`}
      {...attributes}
      {...listeners}
    >
      <span className="whitespace-nowrap">{device}</span>
      {marks && <span className="text-soft"> · {marks}</span>}
      {chance !== undefined && chance < 1 && <span className="sr-only">, ready in time {chanceText(chance)}</span>}
    </button>
  );
}

/** The same by a form: for those who would rather choose than carry, and before scripts have loaded. */
function MoveForm({ draft }: { draft: ShownDraft }) {
  const { shares, reserve, state } = draft;
  if (!shares || state === "running") return null;
  const devices = [
    ...shares.flatMap((share) => share.devices.map(({ device }) => device)),
    ...reserve.map((r) => r.device),
  ];
  return (
    <Form method="post" className="mt-3 flex flex-wrap items-end gap-2" aria-label="Move a device">
      <input type="hidden" name="what" value="move" />
      <ChoiceField label="Move" name="device" options={devices.sort().map((tag) => ({ value: tag, text: tag }))} />
      <ChoiceField
        label="to"
        name="to"
        options={[
          ...shares.map(({ group, name }) => ({ value: group, text: name })),
          { value: RESERVE, text: "the reserve" },
          ...shares.map(({ group, name }) => ({ value: `${NEVER}${group}`, text: `anywhere but ${name}` })),
        ]}
      />
      <button type="submit" className="btn">
        Move it, and pin it there
      </button>
    </Form>
  );
}
