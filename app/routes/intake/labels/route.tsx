import { Printer } from "lucide-react";
import { db } from "~/app/server/http/context";
import { pageFrom } from "~/app/server/http/pages";
import { qrPath } from "~/app/server/http/qrPath";
import { allDevices, deviceName } from "~/app/server/planning/planning";
import { AreaField, ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Pages } from "~/app/ui/Pages";
import { countText } from "~/app/ui/words";
import { LABEL_SHEETS, type LabelSheet, type LabelSheetName, layLabels } from "~/core/device/labels";
import { currentValue } from "~/core/device/lookUp";
import { listBatches, tagsOfImport } from "~/store/devices";
import type { Route } from "./+types/route";

/** Labels made at once: two sheets of the usual ones. */
const MOST = 48;

export function loader({ request }: Route.LoaderArgs) {
  const url = new URL(request.url);
  const query = url.searchParams;
  const asked = query.get("sheet") ?? "";
  const sheet = (Object.keys(LABEL_SHEETS) as LabelSheetName[]).find((name) => name === asked) ?? "a4-24";
  const { columns, rows } = LABEL_SHEETS[sheet];
  const used = Math.max(0, Math.min(columns * rows - 1, Math.trunc(Number(query.get("used")) || 0)));
  const batch = query.get("batch") ?? "";
  const written = (query.get("tags") ?? "").split(/[\s,;]+/).filter(Boolean);
  const ofList = query.has("list") ? tagsOfImport(db(), Number(query.get("list"))) : [];
  const wanted = new Set([...written, ...ofList].map((t) => t.toLowerCase()));
  const devices = allDevices(db()).filter(
    ({ standing }) => wanted.has(standing.tag.toLowerCase()) || (batch !== "" && standing.batch === batch),
  );
  const known = new Set(devices.map((d) => d.standing.tag.toLowerCase()));
  const from = pageFrom(request, devices.length, MOST);
  return {
    sheet,
    used,
    batch,
    tags: [...written, ...ofList].join(" "),
    batches: listBatches(db()).map((b) => ({ value: b.id, text: b.title })),
    missing: written.filter((t) => !known.has(t.toLowerCase())),
    page: { from, of: devices.length, size: MOST },
    labels: devices.slice(from, from + MOST).map((d) => ({
      tag: d.standing.tag,
      // A phone that scans it opens the device's page on the computer that serves this.
      qr: qrPath(`${url.protocol}//${url.host}/devices/${d.standing.tag}`),
      name: deviceName(d, ""),
      number: String(currentValue(d.facts, "model.number") ?? ""),
    })),
  };
}

export default function Labels({ loaderData }: Route.ComponentProps) {
  const { sheet, used, batch, tags, batches, missing, page, labels } = loaderData;
  const size: LabelSheet = LABEL_SHEETS[sheet];
  const pages = layLabels(labels, size, used);
  const paper = size.page.width === 210 ? "paper-a4" : "paper-letter";
  return (
    <>
      <title>Labels · Upshift Lane</title>
      <div className="no-print">
        <p className="hint">
          <Link to="/intake">Intake</Link>
        </p>
        <h1>Labels</h1>
        <Form method="get" className="sheet my-3 grid grid-cols-[minmax(0,1fr)] items-end gap-3 md:grid-cols-4">
          <ChoiceField
            label="Batch"
            name="batch"
            key={batch}
            defaultValue={batch}
            options={[{ value: "", text: "only the tags below" }, ...batches]}
          />
          <ChoiceField
            label="Paper"
            name="sheet"
            defaultValue={sheet}
            options={Object.entries(LABEL_SHEETS).map(([value, s]) => ({ value, text: s.says }))}
          />
          <TextField
            label="Labels gone from the first sheet"
            name="used"
            type="number"
            min={0}
            max={size.columns * size.rows - 1}
            defaultValue={used}
          />
          <AreaField label="Tags" name="tags" rows={1} defaultValue={tags} placeholder="TH-001 TH-002" />
          <div className="flex flex-wrap gap-2 md:col-span-4">
            <button type="submit" className="btn">
              Show
            </button>
            {labels.length > 0 && (
              <button type="button" className="btn-main" onClick={() => window.print()}>
                <Printer size={16} aria-hidden="true" /> Print {countText(labels.length, "label")} on{" "}
                {countText(pages.length, "page")}
              </button>
            )}
          </div>
          <p className="hint md:col-span-4">
            Print at 100 %, without the browser's own margins. What you see below is what comes out.
          </p>
        </Form>
        {missing.length > 0 && <Notice kind="wrong">There is no device {missing.join(", ")}.</Notice>}
        <Pages {...page} what="Labels" />
        {labels.length === 0 && <p className="sheet">Choose a batch, or write tags.</p>}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the sheets scroll sideways on small screens. */}
      <section aria-label="Sheets" className={`label-sheets ${paper}`} tabIndex={0}>
        {pages.map((page, n) => (
          <svg
            key={n}
            className="label-sheet"
            role="img"
            aria-label={`Sheet ${n + 1}: ${page.map((p) => p.label.tag).join(", ")}`}
            viewBox={`0 0 ${size.page.width} ${size.page.height}`}
            style={{ width: `${size.page.width}mm`, height: `${size.page.height}mm` }}
          >
            {page.map(({ label, x, y }) => (
              <OneLabel key={label.tag} label={label} x={x} y={y} size={size.label} />
            ))}
          </svg>
        ))}
      </section>
    </>
  );
}

/** QR code on the left with its quiet zone, the tag in large type beside it, what it is under that. */
function OneLabel({
  label,
  x,
  y,
  size,
}: {
  label: Route.ComponentProps["loaderData"]["labels"][number];
  x: number;
  y: number;
  size: LabelSheet["label"];
}) {
  const pad = 3;
  const side = Math.min(size.height - 2 * pad, size.width * 0.42);
  // ISO/IEC 18004: four modules of white around the code.
  const module = side / (label.qr.size + 8);
  const textX = pad + side + 1.5;
  const room = size.width - textX - pad;
  // Digits and capitals of the face are about 0.66 of the type size wide.
  const type = Math.min(9, room / (label.tag.length * 0.66));
  return (
    <g transform={`translate(${x} ${y})`}>
      <rect className="label-edge" width={size.width} height={size.height} fill="white" />
      <g transform={`translate(${pad + 4 * module} ${(size.height - side) / 2 + 4 * module}) scale(${module})`}>
        <path d={label.qr.path} fill="black" shapeRendering="crispEdges" />
      </g>
      <text x={textX} y={size.height / 2} fontSize={type} fontWeight="700" fill="black">
        {label.tag}
      </text>
      <text x={textX} y={size.height / 2 + 5} fontSize="2.8" fill="black">
        {label.name.slice(0, 24)}
      </text>
      <text x={textX} y={size.height / 2 + 8.6} fontSize="2.8" fill="black">
        {label.number.slice(0, 24)}
      </text>
    </g>
  );
}
