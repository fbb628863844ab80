import {
  DndContext,
  type DragEndEvent,
  type DragStartEvent,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { Fragment, useId, useRef } from "react";
import { useSubmit } from "react-router";
import { rowUnder } from "~/app/ui/carryRows";
import { carryWords } from "~/app/ui/carryWords";
import { useMay } from "~/app/ui/useMay";
import { clockAt } from "~/core/schedule/clock";
import { byFiveMinutes, carriedTo, SNAP } from "./carryPiece";
import type { ShownEvening, ShownPiece, ShownRow } from "./shown";

/** Hands solid, what runs by itself hatched, waiting thin: told by shape, not by colour alone. */
const HATCHED = "repeating-linear-gradient(45deg, var(--color-lane-wash) 0 5px, transparent 5px 9px)";

/** Per cent of an evening's width, drawn as it fits, that a tag takes; what is narrower says it when it is pointed at, and in the list. */
const ROOM_FOR_A_TAG = 5.4;

const clockOfMinute = (minute: number) => clockAt(minute % (24 * 60));

type Carried = ShownPiece & { readonly minutes: number };

/** An evening drawn by volunteer and by bench, with a line where it is now; work by hand can be carried elsewhere. */
export function EveningDrawing({ evening, now, zoom }: { evening: ShownEvening; now: number; zoom: number }) {
  const { day, from, to, rows } = evening;
  const span = to - from;
  const submit = useSubmit();
  const may = useMay();
  const id = useId();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: byFiveMinutes }),
  );
  /** As it lay when it was taken up: the timetable may follow something else meanwhile. */
  const held = useRef<Carried | null>(null);
  const take = ({ active }: DragStartEvent) => {
    held.current = active.data.current as Carried;
  };
  const drop = ({ active, over, delta }: DragEndEvent) => {
    const piece = held.current;
    held.current = null;
    const width = active.rect.current.initial?.width;
    if (!piece || !over || !width) return;
    const volunteer = String(over.id);
    const minute = carriedTo(piece.from, delta.x, width / piece.minutes);
    if (volunteer === piece.volunteer && Math.abs(minute - piece.from) < SNAP) return;
    submit(
      { what: "put", piece: piece.key, volunteer, start: `${day}T${clockOfMinute(minute)}` },
      { method: "post", preventScrollReset: true },
    );
  };
  const words = carryWords({
    thing: (key) => rows.flatMap(({ pieces }) => pieces).find((piece) => piece.key === key)?.device ?? "It",
    place: String,
    how: `Space takes a piece up, the arrow keys carry it by ${SNAP} minutes or into other hands, space puts it there, Escape leaves it.`,
  });
  const at = (minute: number) => `${(100 * (minute - from)) / span}%`;
  const marks = Array.from({ length: Math.floor(span / 30) + 1 }, (_, k) => from + 30 * k);
  return (
    <DndContext
      id={id}
      accessibility={words}
      sensors={may("POST") ? sensors : []}
      collisionDetection={rowUnder}
      onDragStart={take}
      onDragEnd={drop}
    >
      <div className="drawn mt-2 overflow-x-auto">
        <div className="pr-5" style={{ minWidth: `${44 * zoom}rem` }}>
          <div className="relative ml-40 h-5 text-xs text-soft tabular-nums" aria-hidden="true">
            {marks.map((minute) => (
              <span key={minute} className="absolute -translate-x-1/2" style={{ left: at(minute) }}>
                {clockOfMinute(minute)}
              </span>
            ))}
          </div>
          {rows.map((row) => (
            <Row key={row.name} row={row} at={at} span={span} zoom={zoom}>
              {now >= from && now <= to && (
                <span className="absolute inset-y-0 w-0.5 bg-signal" style={{ left: at(now) }} />
              )}
            </Row>
          ))}
        </div>
      </div>
    </DndContext>
  );
}

interface RowProps {
  readonly row: ShownRow;
  readonly at: (minute: number) => string;
  readonly span: number;
  readonly zoom: number;
  readonly children: React.ReactNode;
}

/** How far the lanes of a row are from each other, in rem. */
const LANE_HEIGHT: Readonly<Record<ShownRow["kind"], number>> = { hands: 1.75, alone: 1.75, shelf: 1.25 };

function Row({ row: { kind, name, pieces }, at, span, zoom, children }: RowProps) {
  const { setNodeRef, isOver } = useDroppable({ id: name, disabled: kind !== "hands" });
  const lanes = lanesOf(pieces);
  const height = LANE_HEIGHT[kind];
  return (
    <div
      ref={setNodeRef}
      className={`flex border-t border-rule ${isOver ? "bg-lane-wash" : ""}`}
      style={{ height: `${Math.max(LANE_HEIGHT.hands, lanes.length * height) + 0.5}rem` }}
    >
      <span className="sticky left-0 z-10 w-40 shrink-0 bg-sheet pt-1 pr-2 text-sm leading-tight font-semibold">
        {name}
      </span>
      <div className="relative flex-1">
        {lanes.flatMap((lane, place) =>
          lane.map((piece) => {
            const top = 0.25 + place * height;
            const width = (100 * (piece.to - piece.from)) / span;
            if (kind === "shelf")
              return <Waiting key={piece.key} piece={piece} left={at(piece.from)} width={width} top={top} />;
            return (
              <Fragment key={piece.key}>
                <PieceBar piece={piece} left={at(piece.from)} width={width} zoom={zoom} top={`${top}rem`} />
                <Lying piece={piece} at={at} span={span} top={top + 0.7} />
              </Fragment>
            );
          }),
        )}
        {children}
      </div>
    </div>
  );
}

interface LyingProps extends Pick<RowProps, "at" | "span"> {
  readonly piece: ShownPiece;
  /** In rem. */
  readonly top: number;
}

/** What ran by itself and lies there until hands come for it: a thin line. */
function Lying({ piece: { device, to, lies }, at, span, top }: LyingProps) {
  if (!lies) return null;
  return (
    <span
      title={`${device} waits for hands until ${lies.ends}`}
      aria-hidden="true"
      className="absolute h-0.5 bg-lane"
      style={{ left: at(to), width: `${(100 * (lies.to - to)) / span}%`, top: `${top}rem` }}
    />
  );
}

/** Days that a maker lets pass: a thin line, with what waits above it. */
function Waiting({ piece, left, width, top }: { piece: ShownPiece; left: string; width: number; top: number }) {
  return (
    <span
      title={`${piece.device}: ${piece.title}, until ${piece.ends}`}
      aria-hidden="true"
      className="absolute h-5 overflow-hidden border-b-2 border-lane text-xs whitespace-nowrap"
      style={{ left, width: `${width}%`, top: `${top}rem` }}
    >
      {piece.device} until {piece.ends}
    </span>
  );
}

interface BarProps {
  readonly piece: ShownPiece;
  readonly left: string;
  /** Per cent of the evening. */
  readonly width: number;
  readonly zoom: number;
  readonly top: string;
}

function PieceBar({ piece, left, width, zoom, top }: BarProps) {
  const { kind, device, title, group, begins, ends, pinned } = piece;
  const hands = kind === "hands";
  const { setNodeRef, attributes, listeners, transform, isDragging } = useDraggable({
    id: piece.key,
    data: { ...piece, minutes: piece.to - piece.from },
    disabled: !hands,
  });
  const says = `${begins}–${ends} ${device}: ${title}${group ? ` (${group})` : ""}${pinned ? ", pinned" : ""}`;
  const style = { left, width: `${width}%`, top };
  const tag = width * zoom > ROOM_FOR_A_TAG ? `${pinned ? "▪ " : ""}${device}` : "";
  // Without a tag there is nothing to keep clear of: a minute is drawn as wide as a minute is.
  const look = `absolute h-6 overflow-hidden rounded border text-left text-xs leading-6 whitespace-nowrap ${tag ? "px-1" : ""}`;
  if (!hands)
    return (
      <span
        title={says}
        aria-hidden="true"
        className={`${look} border-lane text-ink`}
        style={{ ...style, background: HATCHED }}
      >
        {tag}
      </span>
    );
  return (
    <button
      type="button"
      ref={setNodeRef}
      title={says}
      aria-label={says}
      className={`${look} bg-lane text-white ${pinned ? "border-2 border-ink" : "border-lane"} ${isDragging ? "z-20 opacity-80" : ""}`}
      style={{ ...style, transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined }}
      {...attributes}
      {...listeners}
    >
      {tag}
    </button>
  );
}

/** Pieces that lie over each other in time are drawn one below the other; nothing is drawn over what waits for hands. */
function lanesOf(pieces: readonly ShownPiece[]): ShownPiece[][] {
  const lanes: ShownPiece[][] = [];
  for (const piece of [...pieces].sort((a, b) => a.from - b.from)) {
    const free = lanes.find((lane) => endOf(lane.at(-1)) <= piece.from);
    if (free) free.push(piece);
    else lanes.push([piece]);
  }
  return lanes;
}

const endOf = (piece: ShownPiece | undefined): number => piece?.lies?.to ?? piece?.to ?? 0;
