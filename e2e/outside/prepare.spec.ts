import fs from "node:fs";
import { expect, test } from "@playwright/test";
import { fat32Cluster, fat32Clusters } from "~/core/files/card";
import { Workshop } from "../rig/tools";

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

test("a card of 4, 8, 16 and 32 GB has as many clusters as mkfs.vfat makes and fsck.vfat counts", () => {
  for (const gigabytes of [4, 8, 16, 32]) {
    const bytes = gigabytes * 1e9;
    shop.write("card.img", "");
    // A file with a hole: it takes no room on the disk.
    fs.truncateSync(shop.at("card.img"), bytes);
    const cluster = fat32Cluster(bytes);
    shop.run("mkfs.vfat", "-F", "32", "-s", String(cluster / 512), "card.img");
    const said = shop.run("fsck.vfat", "-n", "-v", "card.img");
    const counted = Number(/(\d+) data clusters|= (\d+) clusters|\/(\d+) clusters/.exec(said)?.slice(1).find(Boolean));
    // The table's size is rounded a little differently; a thousandth is far below what a plan leaves free.
    expect(Math.abs(fat32Clusters(bytes) - counted) / counted).toBeLessThan(0.001);
  }
});
