import fs from "node:fs";
import path from "node:path";
import {
  EDITION_SLOTS,
  EDITION_WORDS,
  FLASHER_TICK_KEYS,
  FLASHER_TICKS,
  FlasherEdition,
} from "~/core/catalogue/flasherSlots";
import type { FlasherPlace } from "./run";

const escaped = (text: string) =>
  text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c] ?? c);

/** Files in the folder of files, as `<image>/<name>`. */
function listed(folder: string): string[] {
  if (!fs.existsSync(folder)) return [];
  return fs
    .readdirSync(folder, { withFileTypes: true })
    .flatMap((entry) =>
      entry.isDirectory() ? fs.readdirSync(path.join(folder, entry.name)).map((f) => `${entry.name}/${f}`) : [],
    )
    .sort();
}

const tarsIn = (folder: string) => listed(folder).filter((name) => /\.tar(\.md5)?$/.test(name));

/** Files that a row may get: images, and what was kept of the device. */
function rowFiles({ files, kept }: Pick<FlasherPlace, "files" | "kept">): string[] {
  const images = listed(files).filter((name) => name.endsWith(".img"));
  const own = kept && fs.existsSync(kept) ? fs.readdirSync(kept).sort() : [];
  return [...own.map((f) => `<option value="kept:${escaped(f)}">${escaped(f)}</option>`), ...images.map(option)];
}

const option = (name: string) => `<option>${escaped(name)}</option>`;

const STYLE = `body{font:16px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;background:#f6f1e7;color:#25211b}
fieldset{border:1px solid #b9ad98;border-radius:6px;margin:0 0 1rem;display:grid;gap:.5rem}select,textarea,input{font:inherit;max-width:100%}
label b{display:inline-block;min-width:7rem}button{font:inherit;padding:.5rem 1.5rem}pre{background:#25211b;color:#f7f2e8;padding:1rem;min-height:6rem;white-space:pre-wrap}td{padding:.2rem .5rem}`;

/** What all windows share: the head, which window this is, what it says. */
function windowOf(wanted: string, body: string, script: string): string {
  const windows = [
    ...FlasherEdition.options.map((e) => [e, EDITION_WORDS[e]] as const),
    ["board", "a loader board"] as const,
  ];
  const links = windows
    .map(
      ([id, words]) => `<a href="/?edition=${id}"${id === wanted ? ' aria-current="page"' : ""}>${escaped(words)}</a>`,
    )
    .join(" · ");
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Stand-in flasher</title><style>${STYLE}</style>
<h1>Stand-in flasher</h1><p>A practice program of the lane's own: it talks to the simulated phone and to nothing else. ${links}</p>
${body}<pre aria-live="polite">Nothing was started yet.</pre>
<script>
const out = document.querySelector("pre");
async function send(path, body) {
  out.textContent = "At work…";
  const answer = await fetch(path, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
  out.textContent = await answer.text();
}
${script}
</script></html>`;
}

/** The stand-in's window: slots and ticks for download mode, rows for a board, start, and what it says. */
export function flasherPage(place: Pick<FlasherPlace, "files" | "kept">, wanted: string | null): string {
  if (wanted === "board") return boardWindow(place);
  const parsed = FlasherEdition.safeParse(wanted);
  const edition = parsed.success ? parsed.data : "five-slots";
  const files = tarsIn(place.files).map(option).join("");
  const slots = EDITION_SLOTS[edition]
    .map(
      (slot) =>
        `<label><b>${escaped(slot)}</b> <select aria-label="${escaped(slot)}" data-slot="${escaped(slot)}"><option value="">empty</option>${files}</select></label>`,
    )
    .join("");
  const ticks = FLASHER_TICK_KEYS.map(
    (tick) =>
      `<label><input type="checkbox" data-tick="${tick}"${FLASHER_TICKS[tick].usual ? " checked" : ""}> ${escaped(FLASHER_TICKS[tick].says)}</label>`,
  ).join("");
  return windowOf(
    edition,
    `<form><fieldset><legend>Slots</legend>${slots}</fieldset><fieldset><legend>Ticks</legend>${ticks}</fieldset><button>Start</button></form>`,
    `document.forms[0].addEventListener("submit", (event) => {
  event.preventDefault();
  const slots = {}, ticks = {};
  for (const s of document.querySelectorAll("select")) if (s.value) slots[s.dataset.slot] = s.value;
  for (const t of document.querySelectorAll("input")) ticks[t.dataset.tick] = t.checked;
  send("/run", { edition: "${edition}", slots, ticks });
});`,
  );
}

function boardWindow(place: Pick<FlasherPlace, "files" | "kept">): string {
  return windowOf(
    "board",
    `<form id="dump"><fieldset><legend>Dump</legend><label><b>Names begin with</b> <input name="prefix" value="dump-1"></label></fieldset><button>Dump</button></form>
<form id="rows"><fieldset><legend>Rows</legend><label><b>Partition list</b><br><textarea name="list" rows="5" cols="60"></textarea></label>
<p><button type="button" id="load">Load the list</button></p><table aria-label="Rows"><tbody></tbody></table></fieldset><button>Run</button></form>
<template id="files"><option value="">no file</option>${rowFiles(place).join("")}</template>`,
    `const list = document.querySelector("textarea"), body = document.querySelector("tbody");
document.querySelector("#load").addEventListener("click", () => {
  const names = [...list.value.matchAll(/\\(([^)]+)\\)/g)].map((m) => m[1].replace(/:.*/, ""));
  body.replaceChildren(...["loader", "parameter", ...names].map((row) => {
    const line = document.createElement("tr"), tick = document.createElement("input"), file = document.createElement("select");
    tick.type = "checkbox"; tick.setAttribute("aria-label", row + " ticked");
    file.setAttribute("aria-label", row); file.append(document.querySelector("#files").content.cloneNode(true));
    for (const inside of [tick, row, file]) { const cell = document.createElement("td"); cell.append(inside); line.append(cell); }
    line.dataset.row = row;
    return line;
  }));
});
document.querySelector("#dump").addEventListener("submit", (event) => {
  event.preventDefault();
  send("/dump", { prefix: document.querySelector("[name=prefix]").value });
});
document.querySelector("#rows").addEventListener("submit", (event) => {
  event.preventDefault();
  const rows = [...body.children].map((l) => ({ row: l.dataset.row, on: l.querySelector("input").checked, file: l.querySelector("select").value || null }));
  send("/run", { list: list.value, rows });
});`,
  );
}
