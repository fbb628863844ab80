import { createHash } from "node:crypto";
import fs from "node:fs";
import { expect, test } from "@playwright/test";
import { takePartition } from "~/core/files/formats/payload";
import { openPayload, recognise } from "~/core/files/recognise";
import { counting } from "~/core/files/source";
import { makePayload, type PartitionToMake } from "~/testing/madePayload";
import { diskSource, noise, Workshop } from "../rig/tools";

// Payload manifests are encoded by protobufjs, their data packed by the real xz and bzip2, the package made by the real zip.

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

const sha = (bytes: Uint8Array) => new Uint8Array(createHash("sha256").update(bytes).digest());

function packed(program: "xz" | "bzip2", bytes: Uint8Array): Uint8Array {
  shop.write("part", bytes);
  shop.run("sh", "-c", `${program} -k -c part > part.packed`);
  return shop.bytes("part.packed");
}

/** A partition in three operations: xz, bzip2, and blocks of zeros. */
function bootPartition(): { image: Uint8Array; partition: PartitionToMake } {
  const image = new Uint8Array(4096 * 80);
  const text = new TextEncoder().encode("kernel words that pack well ".repeat(5000)).subarray(0, 4096 * 32);
  image.set(text);
  image.set(noise(4096 * 16, 5), 4096 * 40);
  return {
    image,
    partition: {
      name: "boot",
      bytes: image.length,
      digest: sha(image),
      operations: [
        { type: 8, data: packed("xz", image.slice(0, 4096 * 40)), blocks: [[0, 40]] },
        {
          type: 1,
          data: packed("bzip2", image.slice(4096 * 40, 4096 * 60)),
          blocks: [
            [40, 10],
            [50, 10],
          ],
        },
        { type: 6, data: new Uint8Array(), blocks: [[60, 20]] },
      ],
    },
  };
}

test("a small partition packed with xz and bzip2 comes out as it went in", async () => {
  const { image, partition } = bootPartition();
  shop.write("payload.bin", makePayload([partition]));
  const opened = await openPayload(shop.source("payload.bin"));
  if (!opened) throw new Error("no payload");
  expect(Buffer.from(await takePartition(opened.source, opened.payload, "boot")).equals(Buffer.from(image))).toBe(true);
  // Damage inside the packed data is found by the digest of the whole, whatever the unpacker makes of it.
  const damaged = shop.bytes("payload.bin");
  for (const at of [200, 400, 800, damaged.length - 2000]) {
    const copy = damaged.slice();
    copy[at] ^= 0x55;
    shop.write("payload.bin", copy);
    const again = await openPayload(shop.source("payload.bin")).catch(() => null);
    if (again) await expect(takePartition(again.source, again.payload, "boot")).rejects.toThrow();
  }
});

test("out of a large package (zip64): only the ranges that are needed are read", async () => {
  const { image, partition } = bootPartition();
  const payload = makePayload([partition]);
  // A file with a hole takes no room on the disk; zip keeps it as it is.
  shop.write("payload.bin", payload);
  fs.truncateSync(shop.at("payload.bin"), 300_000_000);
  shop.write("META-INF/com/android/metadata", "ota-type=AB\npost-sdk-level=33\npre-device=quill\n");
  shop.run("zip", "-q", "-0", "-fz", "ota.zip", "META-INF/com/android/metadata", "payload.bin");
  const file = diskSource(shop.at("ota.zip"));
  const source = counting(file);
  try {
    const report = await recognise(source);
    expect(report.content).toMatchObject({ kind: "ota", payload: { kind: "payload" } });
    const opened = await openPayload(source);
    if (!opened) throw new Error("no payload");
    expect(await takePartition(opened.source, opened.payload, "boot")).toEqual(image);
    expect(source.bytesRead).toBeLessThan(2_000_000);
  } finally {
    file.close();
  }
});
