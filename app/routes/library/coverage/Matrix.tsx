import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useRef } from "react";
import type { CoverageState } from "~/core/upgrade/coverage";

export interface MatrixAxis {
  readonly id: string;
  readonly title: string;
  readonly note: string;
}

/** State and place in the list of reasons of one cell. */
export type MatrixCell = readonly [state: CoverageState, reason: number];

interface Props {
  readonly models: readonly MatrixAxis[];
  readonly images: readonly MatrixAxis[];
  readonly cell: (row: number, column: number) => MatrixCell | undefined;
  readonly chosen: { readonly model: string; readonly image: string } | null;
  readonly choose: (model: string, image: string) => void;
}

const ROW = 30;
const COLUMN = 34;
const NAMES = 190;
const HEAD = 150;

/** A cell is a shape and a colour; the words stand in its label and beside the matrix. */
export const CELL_LOOK: Record<CoverageState, { word: string; color: string; shape: React.ReactNode }> = {
  good: { word: "fits", color: "var(--color-lane)", shape: <circle cx="9" cy="9" r="6" fill="currentColor" /> },
  faults: {
    word: "fits, with known faults",
    color: "var(--color-wait)",
    shape: <path d="M9 2.5 16 15H2Z" fill="none" stroke="currentColor" strokeWidth="2.4" />,
  },
  stopped: {
    word: "is stopped",
    color: "var(--color-stop)",
    shape: <path d="M4 4 14 14M14 4 4 14" stroke="currentColor" strokeWidth="2.6" />,
  },
  withdrawn: {
    word: "was withdrawn",
    color: "var(--color-soft)",
    shape: <path d="M3 9H15" stroke="currentColor" strokeWidth="3.2" />,
  },
};

export function CellShape({ state }: { state: CoverageState }) {
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" style={{ color: CELL_LOOK[state].color }}>
      {CELL_LOOK[state].shape}
    </svg>
  );
}

/**
 * Models down, images across; only what is in sight is drawn, so that hundreds by hundreds scroll smoothly. The first
 * screenful is drawn on the server too.
 */
export const Matrix = memo(function Matrix({ models, images, cell, chosen, choose }: Props) {
  const frame = useRef<HTMLElement>(null);
  const rows = useVirtualizer({
    count: models.length,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW,
    overscan: 4,
    initialRect: { width: 1000, height: 420 },
    scrollPaddingStart: HEAD,
  });
  const columns = useVirtualizer({
    horizontal: true,
    count: images.length,
    getScrollElement: () => frame.current,
    estimateSize: () => COLUMN,
    overscan: 4,
    initialRect: { width: 1000, height: 420 },
  });
  const across = columns.getVirtualItems();
  return (
    <section
      ref={frame}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a frame that scrolls must be reachable by keyboard.
      tabIndex={0}
      aria-label="Coverage matrix"
      className="sheet relative overflow-auto p-0"
      style={{ height: Math.min(480, HEAD + models.length * ROW + 18) }}
    >
      <div style={{ width: NAMES + columns.getTotalSize(), height: HEAD + rows.getTotalSize(), position: "relative" }}>
        <div className="sticky top-0 z-20 bg-sheet" style={{ height: HEAD }}>
          <span
            className="sticky left-0 z-30 inline-block border-r border-b border-rule bg-sheet px-2 pt-2 text-sm font-semibold text-soft"
            style={{ width: NAMES, height: HEAD }}
          >
            {models.length} models, {images.length} images
          </span>
          {across.map((c) => {
            const image = images[c.index];
            return (
              <span
                key={c.key}
                title={`${image.title}, ${image.note}`}
                className="absolute bottom-0 overflow-hidden border-b border-rule text-sm"
                style={{ left: NAMES + c.start, width: COLUMN, height: HEAD }}
              >
                <a
                  href={`/images/${image.id}`}
                  className="absolute bottom-1 left-[7px] max-h-[138px] overflow-hidden whitespace-nowrap no-underline [writing-mode:vertical-rl] rotate-180"
                >
                  {image.title}
                </a>
              </span>
            );
          })}
        </div>
        {rows.getVirtualItems().map((r) => {
          const model = models[r.index];
          return (
            <div key={r.key} className="absolute left-0 w-full" style={{ top: HEAD + r.start, height: ROW }}>
              <a
                href={`/models/${model.id}`}
                className="sticky left-0 z-10 block truncate border-r border-b border-rule bg-sheet px-2 pt-1 text-sm no-underline"
                title={model.note}
                style={{ width: NAMES, height: ROW }}
              >
                {model.title}
              </a>
              {across.map((c) => {
                const image = images[c.index];
                const found = cell(r.index, c.index);
                const place = { left: NAMES + c.start, width: COLUMN, height: ROW };
                // Most of the matrix is empty: nothing is drawn there.
                if (!found) return null;
                const isChosen = chosen?.model === model.id && chosen.image === image.id;
                return (
                  <span key={c.key} className="absolute top-0" style={place}>
                    <button
                      type="button"
                      aria-label={`${model.title}, ${image.title}: ${CELL_LOOK[found[0]].word}`}
                      aria-pressed={isChosen}
                      className={`grid size-full cursor-pointer place-items-center hover:bg-lane-wash ${isChosen ? "bg-signal-wash ring-2 ring-signal" : ""}`}
                      onClick={() => choose(model.id, image.id)}
                    >
                      <CellShape state={found[0]} />
                    </button>
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
    </section>
  );
});
