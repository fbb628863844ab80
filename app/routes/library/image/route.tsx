import type { ReactNode } from "react";
import { historyOf, undoByForm } from "~/app/server/catalogue/entryHistory";
import { today } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { refusalOf } from "~/app/server/http/refusal";
import { catalogueOf, indexOf } from "~/app/server/planning/planning";
import { EditLinks } from "~/app/ui/EditLinks";
import { EntryHistory } from "~/app/ui/EntryHistory";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { PackLink } from "~/app/ui/PackLink";
import { Pairs } from "~/app/ui/Pairs";
import { Scroll } from "~/app/ui/Scroll";
import { bytesText, percentText } from "~/app/ui/words";
import { describeRelease } from "~/core/android/releases";
import { Incompatible } from "~/core/catalogue/catalogue";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { FACET_WORDS, guessFacets, guessWords } from "~/core/catalogue/facets";
import { SLOT_WORDS } from "~/core/catalogue/flasherSlots";
import { type Image, imageApi, KIND_WORDS, WRITTEN_BY_WORDS } from "~/core/catalogue/image";
import { IMAGE_SECTIONS } from "~/core/catalogue/imageSections";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { companionsOf } from "~/core/upgrade/companions";
import { removePair, savePair } from "~/store/catalogue";
import type { Route } from "./+types/route";
import { PackageTables } from "./PackageTables";
import { ScriptTable } from "./ScriptTable";
import { UsedWith } from "./UsedWith";

export function loader({ params }: Route.LoaderArgs) {
  const { images, incompatible } = catalogueOf(db());
  const image = images.find((i) => i.id === params.id);
  if (!image) throw notFound(`There is no image ${params.id} in the catalogue`);
  const index = indexOf(db());
  return {
    image,
    pairs: incompatible
      .filter((p) => p.a === image.id || p.b === image.id)
      .map((p) => ({ other: p.a === image.id ? p.b : p.a, says: p.says })),
    others: images.filter((i) => i.id !== image.id).map((i) => ({ value: i.id, text: `${i.title} (${i.id})` })),
    companions: companionsOf(index.images.get(image.id) as IndexedImage, index),
    history: historyOf(db(), "image", image.id),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const other = String(form.get("other") ?? "");
  try {
    if (form.get("do") === "pair") {
      const pair = Incompatible.safeParse({
        a: params.id,
        b: other,
        says: String(form.get("says") ?? "").trim(),
        source: String(form.get("source") ?? "").trim() || "Bench notes",
        on: today(db()),
      });
      if (!pair.success) return { ok: false, says: "Choose the other image and say in a few words what goes wrong" };
      savePair(db(), pair.data, handOf(request));
      return { ok: true, says: `It is never combined with ${other} from now on` };
    }
    if (form.get("do") === "unpair") {
      removePair(db(), params.id, other, handOf(request));
      return { ok: true, says: `It may be combined with ${other} again` };
    }
  } catch (error) {
    return { ok: false, says: refusalOf(error) };
  }
  return undoByForm(db(), "image", params.id, form, handOf(request));
}

/** A list of packages is no system: what only a system has is not told of it. */
const OF_A_LIST = ["Android", "Version", "Build number", "Released", "Recorded success", "Source", "Models"];
const told = ({ kind }: Image, pairs: readonly (readonly [string, ReactNode])[]) =>
  kind === "package-list" ? pairs.filter(([name]) => OF_A_LIST.includes(name)) : pairs;

export default function ImagePage({ loaderData, actionData }: Route.ComponentProps) {
  const { image: i, pairs, others, history, companions } = loaderData;
  const guess = guessWords(guessFacets(i.files[0]?.name ?? ""));
  return (
    <>
      <title>{`${i.title} · Upshift Lane`}</title>
      <p className="hint">{KIND_WORDS[i.kind]}</p>
      <h1>
        {i.title} <span className="font-normal text-soft">{i.id}</span>
      </h1>
      <EditLinks
        base={`/images/${i.id}/edit`}
        sections={IMAGE_SECTIONS.filter((s) => !s.kinds || s.kinds.includes(i.kind))}
      />
      {actionData && <Notice kind={actionData.ok ? "done" : "wrong"}>{actionData.says}.</Notice>}
      {i.withdrawn && (
        <Notice kind="caution">
          Withdrawn on {i.withdrawn.on}: {i.withdrawn.says}.{" "}
          {i.withdrawn.successor && <Link to={`/images/${i.withdrawn.successor}`}>Its successor</Link>}
        </Notice>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="what">
          <h2 id="what">What it is</h2>
          <Pairs
            pairs={told(i, [
              ["Android", describeRelease(imageApi(i))],
              ["Version", i.version],
              ["Build number", i.build ?? "—"],
              ["Security patch", i.patch ?? "—"],
              ["Patches promised until", i.patchedUntil ?? "not recorded"],
              ["Released", i.released],
              ["Brings firmware", i.firmware ?? "—"],
              ["Services", i.services ? "built in" : "not built in"],
              ["Integrity verdict", i.integrity ? "passes (recorded)" : "does not pass, or not recorded"],
              ["Rooted", i.rooted ? "yes" : "no"],
              ["Recorded success", i.success === null ? "nothing recorded" : percentText(i.success)],
              ["Source", `${i.source}, ${i.on}`],
            ])}
          />
        </section>
        <section className="sheet" aria-labelledby="needs">
          <h2 id="needs">What it suits and needs</h2>
          <Pairs
            pairs={told(i, [
              [
                "Models",
                i.models.length
                  ? i.models.map((m) => (
                      <Link key={m} to={`/models/${m}`} className="mr-2">
                        {m}
                      </Link>
                    ))
                  : "generic",
              ],
              ["Processor", i.cpu ?? "that of the model"],
              ...(i.kind === "gsi"
                ? [
                    ["Binder", i.generic.binder ? FACET_WORDS.binder[i.generic.binder] : "not recorded"] as const,
                    ["Layout", i.generic.slots ? FACET_WORDS.slots[i.generic.slots] : "not recorded"] as const,
                    [
                      "Patched",
                      i.generic.patching ? FACET_WORDS.patching[i.generic.patching] : "not recorded",
                    ] as const,
                    // A guess helps only where nothing is recorded.
                    ...(Object.values(i.generic).includes(null) && guess.length
                      ? [["Its file's name suggests", `${guess.join("; ")}. A guess, never planned with`] as const]
                      : []),
                  ]
                : []),
              ...(i.kind === "stock"
                ? ([
                    ["Written", WRITTEN_BY_WORDS[i.writtenBy]],
                    ["Regions", i.regions.join(", ") || "no difference"],
                    ["Model numbers", i.modelNumbers.join(", ") || "all of its models"],
                    ...(i.fuse === null ? [] : [["Fuse level", String(i.fuse)]]),
                    ...(i.chip === null ? [] : [["Chip", i.chip]]),
                    ...(i.cardFolder === null ? [] : [["Folder for the card", i.cardFolder]]),
                  ] as [string, string][])
                : []),
              ...(i.port
                ? ([
                    ["Built for", `${i.port.name} (${i.port.modelNumber})`],
                    ["Base under it", i.port.base ?? "storage that is not encrypted"],
                  ] as [string, string][])
                : []),
              ["Firmware from", i.needs.firmwareFrom ?? "—"],
              ["Firmware up to", i.needs.firmwareTo ?? "—"],
              ["Goes on Android", i.needs.fromReleases.join(", ") || "—"],
              ["Recovery from", i.needs.recoveryVersion ?? "—"],
              ["Installed by", i.installs ?? "—"],
            ])}
          />
          <h3 className="mt-3">Known faults</h3>
          {i.faults.length === 0 ? (
            <p className="hint">None is known.</p>
          ) : (
            <ul className="list-disc pl-5">
              {i.faults.map((f) => (
                <li key={f.hardware + f.says}>
                  {HARDWARE_WORDS[f.hardware]}: {f.says}{" "}
                  {f.models.length > 0 && <span className="hint">on {f.models.join(", ")}</span>}
                </li>
              ))}
            </ul>
          )}
          <UsedWith companions={companions} />
          <h3 className="mt-3">Does not work with</h3>
          <ul className="list-disc pl-5">
            {pairs.map((p) => (
              <li key={p.other}>
                <Link to={`/images/${p.other}`}>{p.other}</Link>: {p.says}{" "}
                <Form method="post" className="inline">
                  <input type="hidden" name="other" value={p.other} />
                  <button type="submit" name="do" value="unpair" className="btn px-2 py-0 text-sm">
                    Take out<span className="sr-only"> the pair with {p.other}</span>
                  </button>
                </Form>
              </li>
            ))}
          </ul>
          <details className="mt-1">
            <summary className="cursor-pointer">Write down another</summary>
            <Form method="post" className="mt-1 space-y-2">
              <ChoiceField label="Image" name="other" options={[{ value: "", text: "choose" }, ...others]} />
              <TextField label="What goes wrong" name="says" />
              <TextField label="Where this comes from" name="source" />
              <button type="submit" name="do" value="pair" className="btn">
                Write it down
              </button>
            </Form>
          </details>
        </section>
      </div>
      {i.packages && <PackageTables packages={i.packages} />}
      {i.script && <ScriptTable script={i.script} />}
      <section className="sheet mt-5" aria-labelledby="files">
        <h2 id="files">Files</h2>
        <Scroll label="Files">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">File</th>
                <th scope="col">Goes to</th>
                <th scope="col" className="n">
                  To fetch
                </th>
                <th scope="col" className="n">
                  On the device
                </th>
                <th scope="col">SHA-256</th>
              </tr>
            </thead>
            <tbody>
              {i.files.map((f) => (
                <tr key={f.name}>
                  <td className="font-mono">{f.name}</td>
                  <td>{f.slot ? `flasher: ${SLOT_WORDS[f.slot]}` : (f.partition ?? "installed as a package")}</td>
                  <td className="n">{bytesText(f.bytes)}</td>
                  <td className="n">{f.expanded ? bytesText(f.expanded) : "—"}</td>
                  <td>
                    <code className="text-xs break-all">{f.sha256 ?? "not known"}</code>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      </section>
      <p className="mt-4">
        <PackLink title={i.title} kinds={["image"]} only={i.id}>
          Save it as a pack
        </PackLink>
      </p>
      <EntryHistory {...history} />
    </>
  );
}
