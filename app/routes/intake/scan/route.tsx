import { useEffect, useRef } from "react";
import { data, useFetcher } from "react-router";
import { db, handOf, personOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { type ScanAnswer, scanIn } from "~/app/server/intake/scanIn";
import { catalogueOf } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { maskNumber } from "~/core/device/imei";
import { findStanding, listBatches, standingsIn } from "~/store/devices";
import { newestScans, undoScan } from "~/store/scans";
import type { Route } from "./+types/route";
import { answerSound } from "./answerSound";
import { Camera } from "./Camera";

const LAST = 10;
const DEFAULTS = ["batch", "tags", "donor", "need", "model"] as const;

export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const batches = listBatches(db());
  const inHand = findStanding(db(), query.get("tag") ?? "");
  const batch = query.get("batch") ?? batches[0]?.id ?? "";
  // As the tags of this batch begin so far: what stands before the last number.
  const newest = standingsIn(db(), batch).at(-1)?.tag ?? "";
  return {
    batches: batches.map((b) => ({ value: b.id, text: b.title })),
    needs: catalogueOf(db()).needs.map((n) => ({ value: n.id, text: n.name })),
    defaults: {
      batch,
      tags: query.get("tags") ?? newest.replace(/\d+$/, ""),
      donor: query.get("donor") ?? "",
      need: query.get("need") ?? "",
      model: query.get("model") ?? "",
    },
    inHand: inHand
      ? {
          tag: inHand.tag,
          imei: inHand.imei && maskNumber(inHand.imei),
          serial: inHand.serial && maskNumber(inHand.serial),
        }
      : null,
    last: newestScans(db(), personOf(request), LAST).map((s) => ({
      ...s,
      text: s.what === "device" ? s.text : maskNumber(s.text),
      was: null,
    })),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const word = (name: string) => String(form.get(name) ?? "").trim();
  const hand = handOf(request);
  const inHand = word("inHand") || null;
  if (form.has("undo")) {
    const wrong = undoScan(db(), Number(form.get("undo")), hand);
    return data<ScanAnswer>(
      { ok: wrong === null, says: wrong ?? "Undone", tag: inHand },
      { status: wrong ? 409 : 200 },
    );
  }
  const answer = scanIn(
    db(),
    word("code").slice(0, 200),
    inHand,
    {
      batch: word("batch"),
      tagStart: word("tags").slice(0, 12),
      donor: word("donor").slice(0, 120),
      need: word("need") || null,
      modelNumber: word("model").slice(0, 40),
    },
    hand,
  );
  return data(answer, { status: answer.ok ? 200 : 400 });
}

export default function IntakeScan({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, needs, defaults, last } = loaderData;
  const scans = useFetcher<typeof action>();
  const undo = useFetcher<typeof action>();
  const code = useRef<HTMLInputElement>(null);
  const form = useRef<HTMLFormElement>(null);
  const answer = scans.data ?? actionData ?? null;
  const inHand = answer ? answer.tag : (loaderData.inHand?.tag ?? null);
  useEffect(() => {
    if (scans.data) answerSound(scans.data.ok);
  }, [scans.data]);
  // Emptied when it is sent, not when it is answered: by then the scanner may be typing the next one.
  const isSent = scans.state === "submitting";
  useEffect(() => {
    if (!isSent || !code.current) return;
    code.current.value = "";
    code.current.focus();
  }, [isSent]);
  const take = (text: string) => {
    if (!form.current || !code.current) return;
    code.current.value = text;
    form.current.requestSubmit();
  };
  return (
    <>
      <title>Scan devices in · Upshift Lane</title>
      <p className="hint">
        <Link to="/intake">Intake</Link>
      </p>
      <h1>Scan devices in</h1>
      <p className="hint my-1 max-w-3xl">
        Tag, then IMEI and serial number in any order; the next tag begins the next device. The scanner types and
        presses Enter: the mouse is not needed.
      </p>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 xl:grid-cols-[minmax(0,1fr)_22rem]">
        <div className="space-y-4">
          <div
            className={`rounded-lg border-4 p-4 ${answer ? (answer.ok ? "border-lane bg-lane-wash" : "border-stop bg-stop-wash") : "border-rule bg-sheet"}`}
          >
            <scans.Form method="post" ref={form}>
              {DEFAULTS.map((name) => (
                <input key={name} type="hidden" name={name} value={defaults[name]} />
              ))}
              <input type="hidden" name="inHand" value={inHand ?? ""} />
              <label className="label" htmlFor="code">
                Scan
              </label>
              <input
                id="code"
                name="code"
                ref={code}
                // biome-ignore lint/a11y/noAutofocus: the scanner types wherever the cursor stands.
                autoFocus
                autoComplete="off"
                spellCheck={false}
                className="field font-mono text-2xl"
              />
              <button type="submit" className="sr-only">
                Take this code
              </button>
            </scans.Form>
            <p className="mt-3 text-xl font-bold" role="status" aria-live="assertive">
              {answer ? `${answer.ok ? "✓" : "✗"} ${answer.says}` : "Ready: scan a tag"}
            </p>
            <p className="mt-1">
              In hand: <strong>{inHand ? <Link to={`/devices/${inHand}`}>{inHand}</Link> : "nothing"}</strong>
              {inHand && (
                <Link to={`/aside?tag=${inHand}`} className="btn-warn ml-3 text-sm">
                  Swollen, hot, wet, broken glass: set aside
                </Link>
              )}
            </p>
          </div>
          <Camera take={take} />
          <section aria-labelledby="last">
            <h2 id="last">Last {LAST} entries</h2>
            {undo.data && !undo.data.ok && <Notice kind="wrong">{undo.data.says}</Notice>}
            {last.length === 0 ? (
              <p className="hint">Nothing scanned yet.</p>
            ) : (
              <table className="rows">
                <tbody>
                  {last.map((s) => (
                    <tr key={s.id} className={s.undone ? "text-soft line-through" : undefined}>
                      <td>{s.undone ? s.tag.replace(/~.*/, "") : <Link to={`/devices/${s.tag}`}>{s.tag}</Link>}</td>
                      <td>{{ device: "new device", imei: "IMEI", serial: "serial number" }[s.what]}</td>
                      <td className="font-mono">{s.what === "device" ? "" : s.text}</td>
                      <td className="n">
                        {!s.undone && (
                          <undo.Form method="post">
                            <input type="hidden" name="inHand" value={inHand ?? ""} />
                            <button type="submit" name="undo" value={s.id} className="btn px-2 py-0.5 text-sm">
                              Undo
                              <span className="sr-only">
                                : {s.what} of {s.tag}
                              </span>
                            </button>
                          </undo.Form>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        </div>
        <Form method="get" className="sheet space-y-3 self-start" aria-label="For every device">
          <h2>For every device</h2>
          <ChoiceField label="Batch" name="batch" defaultValue={defaults.batch} options={batches} />
          <TextField label="Tags begin with" name="tags" defaultValue={defaults.tags} />
          <TextField label="Donor" name="donor" defaultValue={defaults.donor} />
          <TextField
            label="Model number"
            name="model"
            defaultValue={defaults.model}
            hint="When the whole box is alike"
          />
          <ChoiceField
            label="For which need"
            name="need"
            defaultValue={defaults.need}
            options={[{ value: "", text: "not decided" }, ...needs]}
          />
          <button type="submit" className="btn">
            Use these
          </button>
        </Form>
      </div>
    </>
  );
}
