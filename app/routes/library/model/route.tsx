import { historyOf, undoByForm } from "~/app/server/catalogue/entryHistory";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { catalogueOf } from "~/app/server/planning/planning";
import { EditLinks } from "~/app/ui/EditLinks";
import { EntryHistory } from "~/app/ui/EntryHistory";
import { ImageTable } from "~/app/ui/ImageTable";
import { Notice } from "~/app/ui/Notice";
import { PackLink } from "~/app/ui/PackLink";
import { Pairs } from "~/app/ui/Pairs";
import { bytesText } from "~/app/ui/words";
import { describeRelease } from "~/core/android/releases";
import { boardPartitions } from "~/core/catalogue/boardList";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { FACET_WORDS } from "~/core/catalogue/facets";
import { EDITION_WORDS } from "~/core/catalogue/flasherSlots";
import { imageApi } from "~/core/catalogue/image";
import { systemAsRoot } from "~/core/catalogue/layout";
import { FLASH_WORDS, modelTitle, type OpenPart, QUIRK_WORDS } from "~/core/catalogue/model";
import { MODEL_SECTIONS } from "~/core/catalogue/modelSections";
import type { Route } from "./+types/route";

export function loader({ params }: Route.LoaderArgs) {
  const { models, images } = catalogueOf(db());
  const model = models.find((m) => m.id === params.id);
  if (!model) throw notFound(`There is no model ${params.id} in the catalogue`);
  return {
    model,
    images: images.filter((i) => i.models.includes(model.id)).sort((a, b) => imageApi(b) - imageApi(a)),
    history: historyOf(db(), "model", model.id),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  return undoByForm(db(), "model", params.id, await readForm(request), handOf(request));
}

export default function ModelPage({ loaderData, actionData }: Route.ComponentProps) {
  const { model: m, images, history } = loaderData;
  const told = (part: OpenPart, says: string) => (m.open.includes(part) ? "not known yet: each device is asked" : says);
  return (
    <>
      <title>{`${modelTitle(m)} · Upshift Lane`}</title>
      <h1>{modelTitle(m)}</h1>
      <EditLinks base={`/models/${m.id}/edit`} sections={MODEL_SECTIONS} />
      {actionData && <Notice kind={actionData.ok ? "done" : "wrong"}>{actionData.says}.</Notice>}
      {m.firmware.dangerous.map((d) => (
        <Notice kind="caution" key={d.from}>
          Firmware {d.from} to {d.to}: {d.says}. Safe base: {d.safe}. Switch automatic updates off.
        </Notice>
      ))}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-5 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="who">
          <h2 id="who">Who it is</h2>
          <Pairs
            pairs={[
              ["Sold as", m.names.join(", ")],
              ["Model numbers", m.modelNumbers.join(", ")],
              ["Code name", m.codename],
              ["Board", m.board],
              ["Kind", m.form],
              ["Came with", told("launchApi", describeRelease(m.launchApi))],
              ["Processor", told("cpu", m.cpu)],
              ["Hardware", told("hardware", m.hardware.map((h) => HARDWARE_WORDS[h]).join(", "))],
              ["Source", `${m.source}, ${m.on}`],
            ]}
          />
        </section>
        <section className="sheet" aria-labelledby="flash">
          <h2 id="flash">How it is flashed</h2>
          <Pairs
            pairs={[
              ["Flashed through", FLASH_WORDS[m.flash]],
              [
                "Unlocking",
                told(
                  "unlock",
                  m.unlock.possible
                    ? m.unlock.waitingDays
                      ? `after ${m.unlock.waitingDays} days of waiting`
                      : "yes"
                    : m.unlock.says || "not possible",
                ),
              ],
              ["For good", m.unlock.consequences.join("; ") || "nothing"],
              ["Locking again", m.relock ? "wholly stock only" : "not offered"],
              ["Slots", told("slots", m.slots ? "a and b" : "one")],
              ["Vendor interface", told("treble", m.treble ? "yes" : "no")],
              ["Binder", m.binder ? FACET_WORDS.binder[m.binder] : m.cpu === "arm64" ? "64-bit" : "not known"],
              [
                "Root folder inside system",
                { true: "yes", false: "no", null: "not recorded" }[`${systemAsRoot(m, null)}`],
              ],
              ["Userspace fastboot", told("userspaceFastboot", m.userspaceFastboot ? "yes" : "no")],
              ["Room for system", told("room", bytesText(m.room.system))],
              ["Room in product", m.room.product ? bytesText(m.room.product) : "no product partition"],
              ["Bootloader by keys", m.keys.bootloader],
              ["Recovery by keys", m.keys.recovery],
              ...(m.download
                ? ([
                    ["Flasher", EDITION_WORDS[m.download.edition]],
                    ["Download mode by keys", m.download.enter],
                    ["First foreign image blows", m.download.fuse ?? "nothing"],
                    [
                      "Forced encryption off by",
                      m.download.encryption === "script"
                        ? "the recovery's command, twice"
                        : m.download.encryption === "wipe"
                          ? "wiping data and key partitions"
                          : "nothing needed",
                    ],
                  ] as [string, string][])
                : []),
              ...(m.loader
                ? ([
                    ["Chip", m.loader.chip],
                    ["Hidden button", m.loader.button],
                    ["Rows of its list", boardPartitions(m.loader.list).join(", ")],
                  ] as [string, string][])
                : []),
              ...(m.card ? ([["Update from a card by", m.card.keys]] as [string, string][]) : []),
              ["Firmware, oldest first", m.firmware.order.join(", ")],
            ]}
          />
        </section>
      </div>
      {m.quirks.length > 0 && (
        <section className="sheet mt-5" aria-labelledby="quirks">
          <h2 id="quirks">Quirks</h2>
          <ul className="list-disc pl-5">
            {m.quirks.map((q) => (
              <li key={q.says}>
                {QUIRK_WORDS[q.at]}: {q.says}
              </li>
            ))}
          </ul>
        </section>
      )}
      <p className="mt-4">
        <PackLink title={modelTitle(m)} kinds={["model", "image", "incompatible"]} model={m.id}>
          Save it with its images as a pack
        </PackLink>
      </p>
      <h2 className="mt-6">Its own images</h2>
      <ImageTable images={images} />
      <EntryHistory {...history} />
    </>
  );
}
