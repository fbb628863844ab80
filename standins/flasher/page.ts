import fs from "node:fs";
import path from "node:path";
import {
  EDITION_SLOTS,
  EDITION_WORDS,
  FLASHER_TICK_KEYS,
  FLASHER_TICKS,
  FlasherEdition,
} from "~/core/catalogue/flasherSlots";

const escaped = (text: string) =>
  text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c] ?? c);

/** Tars in the folder of files, as `<image>/<name>`. */
function tarsIn(folder: string): string[] {
  if (!fs.existsSync(folder)) return [];
  return fs
    .readdirSync(folder, { withFileTypes: true })
    .flatMap((entry) =>
      entry.isDirectory() ? fs.readdirSync(path.join(folder, entry.name)).map((f) => `${entry.name}/${f}`) : [],
    )
    .filter((name) => /\.tar(\.md5)?$/.test(name))
    .sort();
}

/** The stand-in's window: slots, ticks, start, and what it says. */
export function flasherPage(folder: string, wanted: string | null): string {
  const parsed = FlasherEdition.safeParse(wanted);
  const edition = parsed.success ? parsed.data : "five-slots";
  const files = tarsIn(folder)
    .map((f) => `<option>${escaped(f)}</option>`)
    .join("");
  const slots = EDITION_SLOTS[edition]
    .map(
      (slot) =>
        `<label><b>${escaped(slot)}</b> <select data-slot="${escaped(slot)}"><option value="">empty</option>${files}</select></label>`,
    )
    .join("");
  const ticks = FLASHER_TICK_KEYS.map(
    (tick) =>
      `<label><input type="checkbox" data-tick="${tick}"${FLASHER_TICKS[tick].usual ? " checked" : ""}> ${escaped(FLASHER_TICKS[tick].says)}</label>`,
  ).join("");
  const others = FlasherEdition.options
    .map(
      (e) => `<a href="/?edition=${e}"${e === edition ? ' aria-current="page"' : ""}>${escaped(EDITION_WORDS[e])}</a>`,
    )
    .join(" · ");
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Stand-in flasher</title><style>
body{font:16px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;background:#f6f1e7;color:#25211b}
fieldset{border:1px solid #b9ad98;border-radius:6px;margin:0 0 1rem;display:grid;gap:.5rem}select{font:inherit;max-width:100%}
label b{display:inline-block;min-width:7rem}button{font:inherit;padding:.5rem 1.5rem}pre{background:#25211b;color:#f7f2e8;padding:1rem;min-height:6rem;white-space:pre-wrap}
</style><h1>Stand-in flasher</h1><p>A practice program of the lane's own: it talks to the simulated phone and to nothing else. ${others}</p>
<form><fieldset><legend>Slots</legend>${slots}</fieldset><fieldset><legend>Ticks</legend>${ticks}</fieldset><button>Start</button></form><pre aria-live="polite">Nothing was started yet.</pre>
<script>
document.forms[0].addEventListener("submit", async (event) => {
  event.preventDefault();
  const out = document.querySelector("pre");
  out.textContent = "At work…";
  const slots = {}, ticks = {};
  for (const s of document.querySelectorAll("select")) if (s.value) slots[s.dataset.slot] = s.value;
  for (const t of document.querySelectorAll("input")) ticks[t.dataset.tick] = t.checked;
  const answer = await fetch("/run", { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ edition: "${edition}", slots, ticks }) });
  out.textContent = await answer.text();
});
</script></html>`;
}
