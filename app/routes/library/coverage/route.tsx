import { useCallback, useMemo, useState } from "react";
import { coverageCells } from "~/app/server/catalogue/coverage";
import { db } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Pairs } from "~/app/ui/Pairs";
import { countText } from "~/app/ui/words";
import { findModels } from "~/core/catalogue/find";
import { ImageKind, imageApi, KIND_WORDS } from "~/core/catalogue/image";
import { modelWithCode } from "~/core/catalogue/model";
import type { CoverageState } from "~/core/upgrade/coverage";
import { REASON_RULES } from "~/core/ways/reasons";
import type { Route } from "./+types/route";
import { CELL_LOOK, CellShape, Matrix, type MatrixCell } from "./Matrix";

const STATES: readonly CoverageState[] = ["good", "faults", "stopped", "withdrawn"];

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const kind = ImageKind.safeParse(params.get("kind")).data ?? "";
  const state = STATES.find((s) => s === params.get("state")) ?? "";
  const q = (params.get("q") ?? "").trim();
  const { models, images } = catalogueOf(db());
  const shownModels = findModels(models, q);
  const shownImages = images.filter((i) => kind === "" || i.kind === kind);
  const [modelIds, imageIds] = [new Set(shownModels.map((m) => m.id)), new Set(shownImages.map((i) => i.id))];
  const cells = coverageCells(db()).filter(
    (c) => modelIds.has(c.model) && imageIds.has(c.image) && (state === "" || c.state === state),
  );
  // Rows and columns without a cell are left out: what is filtered away should not have to be scrolled past.
  const [rows, columns] = [new Set(cells.map((c) => c.model)), new Set(cells.map((c) => c.image))];
  // Reasons repeat by the hundred: they are sent once.
  const reasons = new Map<string, number>();
  const reasonOf = (code: string | null, says: string) => {
    const key = `${code ?? ""}\n${says}`;
    const at = reasons.get(key) ?? reasons.size;
    reasons.set(key, at);
    return at;
  };
  const down = shownModels
    .filter((m) => rows.has(m.id))
    .map((m) => ({ id: m.id, title: modelWithCode(m), note: m.modelNumbers.join(", ") }))
    .sort((a, b) => (a.title < b.title ? -1 : 1));
  const across = shownImages
    .filter((i) => columns.has(i.id))
    .sort((a, b) => imageApi(b) - imageApi(a) || (a.id < b.id ? -1 : 1))
    .map((i) => ({ id: i.id, title: i.title, note: `${KIND_WORDS[i.kind]}, Android ${i.release}` }));
  const rowOf = new Map(down.map((m, i) => [m.id, i]));
  const columnOf = new Map(across.map((m, i) => [m.id, i]));
  return {
    kind,
    state,
    q,
    models: down,
    images: across,
    /** Four numbers a cell: row, column, state, reason; as one text, which is sent and read far faster than a list. */
    cells: cells
      .flatMap((c) => [
        rowOf.get(c.model) ?? 0,
        columnOf.get(c.image) ?? 0,
        STATES.indexOf(c.state),
        reasonOf(c.code, c.says),
      ])
      .join(" "),
    reasons: [...reasons.keys()].map((key) => {
      const [code, says] = key.split("\n");
      return { code: code || null, says };
    }),
  };
}

export default function Coverage({ loaderData }: Route.ComponentProps) {
  const { kind, state, q, models, images, cells, reasons } = loaderData;
  const byPlace = useMemo(() => {
    const places = new Map<number, MatrixCell>();
    const numbers = cells ? cells.split(" ").map(Number) : [];
    for (let i = 0; i < numbers.length; i += 4)
      places.set(numbers[i] * images.length + numbers[i + 1], [STATES[numbers[i + 2]], numbers[i + 3]]);
    return places;
  }, [cells, images.length]);
  const cell = useCallback(
    (row: number, column: number) => byPlace.get(row * images.length + column),
    [byPlace, images.length],
  );
  const [chosen, setChosen] = useState<{ model: string; image: string } | null>(null);
  const choose = useCallback((model: string, image: string) => setChosen({ model, image }), []);
  const found =
    chosen &&
    cell(
      models.findIndex((m) => m.id === chosen.model),
      images.findIndex((i) => i.id === chosen.image),
    );
  const reason = found && reasons[found[1]];
  const all = [...byPlace.values()];
  const count = (s: CoverageState) => all.filter(([state]) => state === s).length;
  return (
    <>
      <title>Coverage · Upshift Lane</title>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1>Coverage</h1>
          <p className="hint">
            Which image goes on which model, as far as their records tell. Empty: made for other boards.
          </p>
        </div>
        <Form method="get" className="flex flex-wrap items-end gap-2">
          <TextField label="Model" name="q" defaultValue={q} className="w-36" />
          <ChoiceField
            label="Kind"
            name="kind"
            defaultValue={kind}
            options={[
              { value: "", text: "all kinds" },
              ...ImageKind.options.map((k) => ({ value: k, text: KIND_WORDS[k] })),
            ]}
          />
          <ChoiceField
            label="State"
            name="state"
            defaultValue={state}
            options={[{ value: "", text: "all" }, ...STATES.map((s) => ({ value: s, text: CELL_LOOK[s].word }))]}
          />
          <button type="submit" className="btn">
            Show
          </button>
        </Form>
      </div>
      <p className="my-2 flex flex-wrap gap-x-5">
        {STATES.map((s) => (
          <span key={s} className="inline-flex items-center gap-1.5">
            <CellShape state={s} /> {count(s)} {CELL_LOOK[s].word}
          </span>
        ))}
      </p>
      {all.length === 0 ? (
        <p className="sheet">Nothing in the catalogue is like this. Show all kinds and states.</p>
      ) : (
        <>
          <Matrix models={models} images={images} cell={cell} chosen={chosen} choose={choose} />
          <section className="sheet mt-4" aria-label="The chosen cell" aria-live="polite">
            {chosen && found && reason ? (
              <Pairs
                pairs={[
                  [
                    "Model",
                    <Link key="m" to={`/models/${chosen.model}`}>
                      {models.find((m) => m.id === chosen.model)?.title}
                    </Link>,
                  ],
                  [
                    "Image",
                    <Link key="i" to={`/images/${chosen.image}`}>
                      {images.find((i) => i.id === chosen.image)?.title}
                    </Link>,
                  ],
                  ["It", <strong key="s">{CELL_LOOK[found[0]].word}</strong>],
                  ["Because", reason.says],
                  [
                    "Rule",
                    reason.code ? (
                      <span key="r">
                        <Link to={`/rules#${reason.code}`}>
                          {REASON_RULES[reason.code as keyof typeof REASON_RULES]}
                        </Link>{" "}
                        <code className="text-sm text-soft">{reason.code}</code>
                      </span>
                    ) : (
                      "none speaks against it"
                    ),
                  ],
                ]}
              />
            ) : (
              <p className="hint">
                Choose a mark: its reason and the rule behind it stand here. {countText(all.length, "mark")} in all.
              </p>
            )}
          </section>
        </>
      )}
    </>
  );
}
