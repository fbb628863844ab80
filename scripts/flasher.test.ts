import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { demoCatalogue, writeStandIns } from "~/demo/catalogue";
import { runDump, runRows } from "~/standins/flasher/board";
import { flasherPage } from "~/standins/flasher/page";
import { runFlasher } from "~/standins/flasher/run";
import { Flasher } from "~/standins/flasher/server";

// The stand-in without a device: what it refuses before anything is sent, and what hostile requests get.
const files = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-flasher-"));
const catalogue = demoCatalogue();
writeStandIns({ ...catalogue, images: catalogue.images.filter((i) => i.id.startsWith("dale6-stock-11")) }, files);
const place = { files, host: "127.0.0.1", port: 1 };
const body = "dale6-stock-11/body.tar.md5";

const last = async (slots: Record<string, string>, edition: "five-slots" | "four-slots" = "five-slots") =>
  (await runFlasher({ edition, slots, ticks: {} }, place)).lines.slice(-2).join(" / ");

test("a slot of another edition, a file that is not there, one outside its folder, no tar: refused with the slot", async () => {
  expect(await last({ Body: body }, "four-slots")).toContain("there is no slot “Body” in this edition");
  expect(await last({ Body: "nowhere.tar.md5" })).toContain("Body: there is no file nowhere.tar.md5");
  expect(await last({ Body: "../../etc/passwd" })).toContain("there is no file");
  fs.writeFileSync(path.join(files, "text.tar.md5"), "this is no tar");
  expect(await last({ Body: "text.tar.md5" })).toContain("Body: there is no MD5 behind its end");
  expect(await last({})).toContain("every slot is empty / 0 succeeded, 1 failed");
});

test("a tar that was changed, or cut short, by its own MD5", async () => {
  const bytes = fs.readFileSync(path.join(files, body));
  const changed = Buffer.from(bytes);
  changed[700] ^= 1;
  fs.writeFileSync(path.join(files, "changed.tar.md5"), changed);
  fs.writeFileSync(path.join(files, "cut.tar.md5"), bytes.subarray(0, bytes.length - 512));
  expect(await last({ Body: "changed.tar.md5" })).toContain("its MD5 is not the one behind its end");
  expect(await last({ Body: "cut.tar.md5" })).toContain("there is no MD5 behind its end");
});

test("nothing at the port: no device is added, and nothing else is said to have happened", async () => {
  const ran = await runFlasher({ edition: "five-slots", slots: { Body: body }, ticks: {} }, place);
  expect(ran.ok).toBe(false);
  expect(ran.lines.join()).toContain("no device is added");
  expect((await runRows({ list: "", rows: [{ row: "boot", file: null, on: true }] }, place)).lines.join()).toContain(
    "row boot is ticked and has no file",
  );
  expect((await runDump({ prefix: "a" }, place)).lines.join()).toContain("no folder for dumps was named");
});

test("over HTTP: JSON only, its own shapes only, nothing large; a page for people", async () => {
  const flasher = new Flasher(place);
  const address = await flasher.listen();
  const post = async (text: string, type = "application/json", to = "/run") => {
    const answer = await fetch(address + to, { method: "POST", headers: { "content-type": type }, body: text }).catch(
      () => null,
    );
    return answer ? `${answer.status} ${(await answer.text()).trim()}` : "closed";
  };
  expect(await post("{}", "text/plain")).toContain("415");
  expect(await post("{")).toBe("400 This is no JSON");
  expect(await post('{"edition":"six","slots":{}}')).toContain("400 edition");
  expect(await post('{"edition":"five-slots","slots":{},"ticks":{"nuke":true}}')).toContain("400 ticks");
  expect(await post('{"prefix":"../x"}', "application/json", "/dump")).toContain("400 prefix");
  expect(await post(JSON.stringify({ x: "y".repeat(200_000) }))).toBe("closed");
  expect(await post("{}", "application/json", "/elsewhere")).toContain("404");
  const page = await (await fetch(`${address}/?edition=board`)).text();
  expect(page).toContain("Load the list");
  await flasher.close();
});

test("names of files are text on its page", () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-names-"));
  fs.mkdirSync(path.join(folder, "a"));
  fs.writeFileSync(path.join(folder, "a", "<b>&'.tar"), "");
  const page = flasherPage({ files: folder }, null);
  expect(page).toContain("a/&lt;b&gt;&amp;&#39;.tar");
  expect(page).not.toContain("<b>&'");
});
