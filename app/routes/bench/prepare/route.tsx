import { preparationOf, readPrepareAsk } from "~/app/server/bench/preparations";
import { db, notFound } from "~/app/server/http/context";
import { housePolicy } from "~/app/server/planning/housePolicy";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { HoldMark } from "~/app/ui/HoldMark";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Scroll } from "~/app/ui/Scroll";
import { bytesText, countText, timeText } from "~/app/ui/words";
import { planCards } from "~/core/files/card";
import { listBatches } from "~/store/devices";
import { newestSeen } from "~/store/filesSeen";
import type { Route } from "./+types/route";

/** Sizes as printed on cards, GB. */
const CARD_GB = 8;

export function loader({ request }: Route.LoaderArgs) {
  const ask = readPrepareAsk(db(), request);
  const batches = listBatches(db());
  if (ask.batch && !batches.some((b) => b.id === ask.batch))
    throw notFound(`There is no batch ${ask.batch}. Choose one on the list`);
  const params = new URL(request.url).searchParams;
  const gigabytes = Number(params.get("gb") ?? CARD_GB);
  const wrong =
    Number.isFinite(gigabytes) && gigabytes >= 0.5 && gigabytes <= 2048 ? null : "Write a number from 0.5 to 2048";
  const preparation = preparationOf(db(), ask);
  const seen = newestSeen(db());
  const portable = preparation.items.filter((i) => i.place !== "computer");
  return {
    ask,
    gigabytes: params.get("gb") ?? String(CARD_GB),
    wrong,
    host: housePolicy(db()).host === "second-phone" ? "second phone, unpacked there" : "computer",
    batches: batches.map((b) => ({ value: b.id, text: b.title })),
    preparation: {
      ...preparation,
      items: preparation.items.map((i) => ({ ...i, seen: seen.get(i.path) ?? null })),
    },
    cards:
      portable.length && !wrong
        ? planCards(
            portable.map((i) => ({
              folder: i.cardFolder ?? "update",
              name: i.cardFolder ? `everything in ${i.name}` : i.shortName,
              bytes: i.fetch,
            })),
            gigabytes * 1e9,
          )
        : null,
  };
}

export default function Prepare({ loaderData }: Route.ComponentProps) {
  const { ask, batches, preparation, cards, gigabytes, wrong, host } = loaderData;
  const { items } = preparation;
  const query = new URLSearchParams({ batch: ask.batch, which: ask.which, place: ask.place });
  const seen = items.filter((i) => i.seen?.verdict === "yes").length;
  return (
    <>
      <title>Files to prepare · Upshift Lane</title>
      <p className="hint">
        <Link to="/bench">Bench</Link>
      </p>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1>Files to prepare</h1>
        <Form method="get" className="flex flex-wrap items-end gap-2">
          <ChoiceField label="Batch" name="batch" defaultValue={ask.batch} options={batches} />
          <ChoiceField
            label="Devices"
            name="which"
            defaultValue={ask.which}
            options={[
              { value: "accepted", text: "with an accepted way" },
              { value: "all", text: "also with a proposed way" },
            ]}
          />
          <ChoiceField
            label="Packages go on"
            name="place"
            defaultValue={ask.place}
            options={[
              { value: "computer", text: "the bench computer" },
              { value: "stick", text: "a stick" },
              { value: "card", text: "a memory card" },
            ]}
          />
          {ask.place !== "computer" && (
            <TextField
              label="Size, GB"
              name="gb"
              defaultValue={gigabytes}
              wrong={wrong}
              className="w-24"
              inputMode="decimal"
            />
          )}
          <button type="submit" className="btn">
            Show
          </button>
        </Form>
      </div>
      {items.length === 0 ? (
        <p className="sheet mt-3">
          Nothing is to be fetched for {countText(preparation.devices, "device")}. Accept ways at{" "}
          <Link to={`/match?batch=${ask.batch}`}>Match</Link>, or show proposed ways too.
        </p>
      ) : (
        <>
          <p className="my-2 text-lg">
            <strong>{countText(items.length, "file")}</strong> for {countText(preparation.devices, "device")}:{" "}
            {bytesText(preparation.fetch)} to fetch once, {bytesText(preparation.write)} to write in all.{" "}
            <span className="text-soft">
              {seen} of {items.length} seen and right.
            </span>
          </p>
          <div className="flex flex-wrap gap-2">
            <a className="btn-main" href={`/prepare/SHA256SUMS?${query}`}>
              Save SHA256SUMS
            </a>
            <a className="btn" href={`/prepare/check-files.sh?${query}`}>
              Save the script that checks the folder
            </a>
            <a className="btn" href={`/prepare/files.csv?${query}`}>
              Save as CSV
            </a>
            <Link className="btn" to="/files">
              Look at fetched files
            </Link>
          </div>
          <p className="hint my-2">
            Put each file into the folder of its image, inside one folder without blanks in its name; then run{" "}
            <code>sha256sum -c SHA256SUMS</code> there. The bench scripts take that folder.
          </p>
          <Scroll label="Files to prepare">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Folder and file</th>
                  <th scope="col" className="n">
                    To fetch
                  </th>
                  <th scope="col" className="n">
                    To write
                  </th>
                  <th scope="col">What to do</th>
                  <th scope="col">Goes on</th>
                  <th scope="col">For</th>
                  <th scope="col">Seen</th>
                </tr>
              </thead>
              <tbody>
                {items.map((i) => (
                  <tr key={i.path}>
                    <td>
                      <code className="text-sm wrap-anywhere">
                        {i.image}/<wbr />
                        {i.name}
                      </code>
                      <span className="hint block">
                        <Link to={`/images/${i.image}`}>{i.title}</Link> ·{" "}
                        <code title={i.sha256 ?? undefined}>
                          {i.sha256 ? `${i.sha256.slice(0, 12)}…` : "no digest recorded"}
                        </code>
                      </span>
                    </td>
                    <td className="n">{bytesText(i.fetch)}</td>
                    <td className="n">{bytesText(i.write)}</td>
                    <td>{i.says}</td>
                    <td>
                      {{ computer: host, stick: "stick", card: "card" }[i.place]}
                      {i.cardFolder && (
                        <span className="hint block">
                          the folder <code>{i.cardFolder}</code>, unpacked
                        </span>
                      )}
                      {i.place !== "computer" && !i.cardFolder && (
                        <span className="hint block">
                          as <code>{i.shortName}</code>
                        </span>
                      )}
                    </td>
                    <td>{i.devices.length > 3 ? countText(i.devices.length, "device") : i.devices.join(", ")}</td>
                    <td className="whitespace-nowrap">
                      {i.seen ? (
                        <>
                          <HoldMark is={i.seen.verdict} />
                          <span className="hint block">{timeText(i.seen.at)}</span>
                        </>
                      ) : (
                        "not yet"
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        </>
      )}
      {preparation.overTheAir.length > 0 && (
        <section className="sheet mt-4" aria-labelledby="air">
          <h2 id="air">Comes over the air</h2>
          <ul className="list-disc pl-5">
            {preparation.overTheAir.map((a) => (
              <li key={a.title + a.devices[0]}>
                {a.title}: {a.devices.join(", ")}
              </li>
            ))}
          </ul>
        </section>
      )}
      {cards && (
        <section className="sheet mt-4" aria-labelledby="cards">
          <h2 id="cards">
            {ask.place === "card" ? "Memory card" : "Stick"} of {gigabytes} GB, FAT32
          </h2>
          {cards.refused.length > 0 && (
            <Notice kind="wrong">
              <ul className="list-disc pl-5">
                {cards.refused.map((r) => (
                  <li key={r.file.name}>
                    <code>{r.file.name}</code>: {r.says}
                  </li>
                ))}
              </ul>
            </Notice>
          )}
          <p className="my-1">
            {countText(cards.cards.length, ask.place)} needed; {cards.clusterBytes / 1024} KiB clusters,{" "}
            {bytesText(cards.usableBytes)} for files on each.
          </p>
          {cards.cards.map((card, n) => (
            <div key={card.files[0].name} className="mt-2">
              <h3>
                {n + 1}: {bytesText(card.takes)} taken, {bytesText(card.left)} left
              </h3>
              <ul className="font-mono text-sm">
                {card.files.map((f) => (
                  <li key={f.name}>
                    /{f.folder}/{f.name} <span className="text-soft">{f.bytes.toLocaleString("en")} bytes</span>
                  </li>
                ))}
              </ul>
            </div>
          ))}
          <ul className="hint mt-2 list-disc pl-5">
            {cards.mind.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
