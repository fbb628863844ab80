import { stringify } from "csv-stringify/sync";
import { data, Form, Link } from "react-router";
import { db, handOf } from "~/app/server/context";
import { catalogueOf } from "~/app/server/planning";
import { AreaField, ChoiceField } from "~/app/ui/Field";
import { Notice } from "~/app/ui/Notice";
import { countText } from "~/app/ui/words";
import { COLUMNS, decodeList, MAX_LIST_BYTES, readDeviceList } from "~/core/files/deviceList";
import { addDevices, findBatch, listBatches, tagsInUse } from "~/store/devices";
import type { Route } from "./+types/route";
import { ListPreview } from "./ListPreview";

export function loader({ request }: Route.LoaderArgs) {
  const batches = listBatches(db());
  return {
    batches,
    batch: new URL(request.url).searchParams.get("batch") ?? batches[0]?.id ?? "",
    needs: catalogueOf(db()).needs.map((n) => n.id),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const empty = {
    batch: "",
    text: "",
    says: null as string | null,
    preview: null as ReturnType<typeof readDeviceList> | null,
    taken: 0,
  };
  if (Number(request.headers.get("content-length") ?? 0) > MAX_LIST_BYTES * 2)
    return data(
      {
        ...empty,
        says: "The file is larger than 5 MB. Split it, or save only the columns that are needed. Nothing was taken in",
      },
      { status: 413 },
    );
  const form = await request.formData();
  const batch = String(form.get("batch") ?? "");
  let text = String(form.get("text") ?? "");
  const file = form.get("file");
  const refuse = (says: string) => data({ ...empty, batch, text, says }, { status: 400 });
  if (file instanceof File && file.size > 0) {
    const decoded = decodeList(new Uint8Array(await file.arrayBuffer()));
    if (!decoded.ok) return refuse(decoded.says);
    text = decoded.text;
  }
  if (!findBatch(db(), batch)) return refuse("Choose a batch first, or make one at Intake");
  if (text.trim() === "") return refuse("Choose a file or paste a list");
  const needs = new Map(
    catalogueOf(db()).needs.flatMap((n) => [[n.id, n.id] as const, [n.name.toLowerCase(), n.id] as const]),
  );
  const list = readDeviceList(text, tagsInUse(db()), needs);
  if (!list.ok) return refuse(list.says);
  if (form.get("do") !== "take") return data({ ...empty, batch, text, preview: list });
  const hand = handOf(request);
  const good = list.rows.filter((r) => r.problems.length === 0);
  const rest = list.rows.filter((r) => r.problems.length > 0);
  addDevices(
    db(),
    batch,
    good.map((r) => ({
      tag: r.tag,
      serial: r.serial,
      imei: r.imei,
      donor: r.donor,
      need: r.need,
      facts: r.facts.map((f) => ({ ...f, source: "import" as const, at: hand.at, by: hand.by })),
    })),
    hand,
  );
  const remainder = rest.length ? stringify([list.header, ...rest.map((r) => r.cells)]) : "";
  return data({
    ...empty,
    batch,
    text: remainder,
    taken: good.length,
    preview: rest.length ? { ...list, rows: rest } : null,
  });
}

export default function IntakeList({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, needs } = loaderData;
  const preview = actionData?.preview?.ok ? actionData.preview : null;
  const good = preview?.rows.filter((r) => r.problems.length === 0).length ?? 0;
  const batch = actionData?.batch || loaderData.batch;
  return (
    <>
      <title>Take in a list · Upshift Lane</title>
      <h1>Take in a list</h1>
      <p className="hint my-2 max-w-3xl">
        A CSV file (comma, semicolon or tab; UTF-8). Its first line names the columns, in any order:{" "}
        {Object.values(COLUMNS)
          .map((c) => c[0])
          .join(", ")}
        . Only the tag is required. Needs: {needs.join(", ")}.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}</Notice>}
      {(actionData?.taken ?? 0) > 0 && (
        <Notice kind="done">
          {countText(actionData?.taken ?? 0, "device")} taken in.{" "}
          <Link to={`/match?batch=${batch}`}>See what they can become</Link>
          {preview ? ". The rows below are left: mend them and look again." : "."}
        </Notice>
      )}
      <Form method="post" encType="multipart/form-data" className="sheet space-y-3" preventScrollReset>
        <ChoiceField
          label="Batch"
          name="batch"
          key={batch}
          defaultValue={batch}
          options={batches.map((b) => ({ value: b.id, text: b.title }))}
          className="max-w-md"
        />
        <div>
          <label className="label" htmlFor="file">
            File
          </label>
          <input id="file" name="file" type="file" accept=".csv,.tsv,.txt,text/csv" className="field max-w-md" />
        </div>
        <AreaField
          label="Or paste the list"
          name="text"
          key={actionData?.text}
          defaultValue={actionData?.text}
          rows={preview ? 8 : 6}
          mono
          spellCheck={false}
          placeholder={"tag,model number,android,serial\nTH-101,VK-L8,8.1,VKL8000201"}
        />
        <div className="flex flex-wrap gap-2">
          <button type="submit" name="do" value="look" className={preview ? "btn" : "btn-main"}>
            Look at it first
          </button>
          {preview && good > 0 && (
            <button type="submit" name="do" value="take" className="btn-main">
              Take in {countText(good, "good row")}
              {good < preview.rows.length ? `, keep ${preview.rows.length - good} to mend` : ""}
            </button>
          )}
        </div>
      </Form>
      {preview && <ListPreview header={preview.header} rows={preview.rows} />}
    </>
  );
}
