import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { PRELUDE } from "~/core/runbook/scriptPrelude";
import { command } from "../rig/bench";

// What every script begins with, against a shell.

/** Runs a few lines behind the prelude, with programs of the test's own found first. */
async function withPrelude(lines: string, programs: Readonly<Record<string, string>>) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-prelude-"));
  for (const [name, text] of Object.entries(programs))
    fs.writeFileSync(path.join(folder, name), `#!/bin/sh\n${text}\n`, { mode: 0o755 });
  const file = path.join(folder, "run.sh");
  fs.writeFileSync(file, `TAG=TH-001\nTAG_ADDRESS=TH-001\nSCRIPT=\n${PRELUDE.replaceAll("@{", "${")}\n${lines}\n`);
  try {
    return await command("sh", [file], {
      ...process.env,
      PATH: `${folder}:${process.env.PATH}`,
      REPORT: path.join(folder, "report.jsonl"),
    });
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

test("a viewer that does not hear that it is to end holds no script up", async () => {
  test.setTimeout(40_000);
  const tail = `trap '' TERM
[ "$1" = -f ] && exec sleep 60
exec /usr/bin/tail "$@"`;
  const begun = Date.now();
  const { status, stdout, stderr } = await withPrelude("logged 30 true; echo over", { tail });
  expect({ status, stdout: stdout.trim(), stderr }).toEqual({ status: 0, stdout: "over", stderr: "" });
  expect(Date.now() - begun).toBeLessThan(20_000);
});

test("what takes longer than it may is ended; what is over in time tells how it went", async () => {
  const { stdout } = await withPrelude("limit 1 sleep 30; echo $?; limit 30 sh -c 'exit 7'; echo $?", {});
  expect(stdout.trim().split("\n").slice(-2)).toEqual(["143", "7"]);
});
