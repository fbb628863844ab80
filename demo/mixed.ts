import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { gzipSync } from "node:zlib";
import { zipSync } from "fflate";
import { writeDigestList } from "~/core/files/agreesWithLists";
import { writeVbmeta } from "~/core/files/formats/writeVbmeta";
import { standInBytes } from "~/core/files/standIn";
import { makeSuper } from "~/testing/madeFiles";
import { makePayload } from "~/testing/madePayload";
import { codenames, demoCatalogue, md5Hex } from "./catalogue";

/** The device that the mixed folder was collected for. */
export const MIXED_DEVICE = "TH-025";

const sha = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest();
const MiB = 1_048_576;

/**
 * Twelve files as they lie in somebody's download folder, collected for {@link MIXED_DEVICE}: two of them are damaged, one
 * belongs to the same release for another region.
 *
 * @returns bytes by file name
 */
export async function mixedFiles(): Promise<ReadonlyMap<string, Uint8Array>> {
  const catalogue = demoCatalogue();
  const codename = codenames(catalogue);
  const standIn = (id: string, file: string) => {
    const image = catalogue.images.find((i) => i.id === id);
    if (!image) throw new Error(`the demo catalogue has no ${id}`);
    return standInBytes(image, file, codename, md5Hex);
  };
  const vbmeta = standIn("leaf-vbmeta-12", "vbmeta.img");
  const gsi = standIn("plainsong-14-arm64", "plainsong-14-arm64.img");
  const addOn = standIn("larder-14-arm64", "larder-14-arm64.zip").slice();
  addOn[addOn.length >> 1] ^= 0x20;
  const boot = standIn("leaf-stock-12", "boot.img");
  const taken = { type: 0, data: vbmeta, blocks: [[0, vbmeta.length / 4096]] as [number, number][] };
  const whole = new Map<string, Uint8Array>([
    ["vbmeta.img", vbmeta],
    ["plainsong-14-arm64-small.img", standIn("plainsong-14-arm64-small", "plainsong-14-arm64-small.img")],
    ["plainsong-12-arm64.img", standIn("plainsong-12-arm64", "plainsong-12-arm64.img")],
    ["boot.img", boot],
  ]);
  const list = [...whole].map(([name, bytes]) => ({ path: name, sha256: sha(bytes).toString("hex") }));
  return new Map<string, Uint8Array>([
    ...whole,
    [
      "vbmeta-south.img",
      writeVbmeta({
        properties: {
          "com.android.build.system.fingerprint": "halvik/linnet/linnet:12/HLS12-SZ9A.220405.004/7:user/release-keys",
        },
        trees: ["system"],
      }),
    ],
    // Cut short: the header promises more chunks than there are bytes.
    ["plainsong-14-arm64.img", gsi.slice(0, gsi.length - 14)],
    ["larder-14-arm64.zip", addOn],
    [
      "leaf-full-12.zip",
      zipSync(
        {
          "META-INF/com/android/metadata": new TextEncoder().encode(
            "ota-type=AB\npre-device=linnet\npost-build=halvik/linnet/linnet:12/HL12-SZ9A.220405.004/7:user/release-keys\npost-sdk-level=31\npost-security-patch-level=2022-04-05\n",
          ),
          "payload.bin": makePayload([
            { name: "vbmeta", bytes: vbmeta.length, digest: sha(vbmeta), operations: [taken] },
          ]),
        },
        { level: 0, mtime: new Date(2020, 0, 1) },
      ),
    ],
    [
      "super_layout.img",
      await makeSuper(
        {
          bytes: 4600 * MiB,
          groups: [
            { name: "default", maximum: 0 },
            { name: "main", maximum: 4500 * MiB },
          ],
          partitions: [
            { name: "system_a", group: 1, bytes: 2662 * MiB },
            { name: "vendor_a", group: 1, bytes: 780 * MiB },
            { name: "product_a", group: 1, bytes: 600 * MiB },
            { name: "system_ext_a", group: 1, bytes: 310 * MiB },
          ],
        },
        true,
      ),
    ],
    [
      "parameter.img",
      new TextEncoder().encode(
        "PARM\u0001\u0000FIRMWARE_VER: 6.0\r\nCMDLINE: mtdparts=nand0:0x2000@0x2000(uboot),0x2000@0x4000(misc),0x8000@0x6000(boot),0x200000@0xe000(system),-@0x20e000(userdata)\u0000\u0007tail)",
      ),
    ],
    ["logo.img.gz", gzipSync(Buffer.alloc(20_000, 7))],
    ["digests.sha256", new TextEncoder().encode(writeDigestList(list))],
  ]);
}

/** Writes the mixed folder. */
export async function writeMixed(folder: string): Promise<number> {
  fs.mkdirSync(folder, { recursive: true });
  const files = await mixedFiles();
  for (const [name, bytes] of files) fs.writeFileSync(path.join(folder, name), bytes);
  return files.size;
}
