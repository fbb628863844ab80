import { FAT32_MAX_FILE, fat32Cluster, fatNameProblem, planCards } from "./card";

const GB = 1e9;
const file = (name: string, bytes: number, folder = "update") => ({ folder, name, bytes });

// Published: Microsoft FAT specification. Clusters against mkfs.vfat in e2e/outside/prepare.spec.ts.
describe("FAT32", () => {
  test("a file has at most 2^32 − 1 bytes", () => {
    const { refused, cards } = planCards([file("a.img", FAT32_MAX_FILE), file("b.img", FAT32_MAX_FILE + 1)], 32 * GB);
    expect(refused.map((r) => r.file.name)).toEqual(["b.img"]);
    expect(cards).toHaveLength(1);
  });

  test.each([
    [200 * 1_048_576, 512],
    [8 * GB, 4096],
    [16 * GB, 8192],
    [32 * GB, 16_384],
    [64 * GB, 32_768],
  ])("clusters of a volume of %i bytes", (volume, cluster) => expect(fat32Cluster(volume)).toBe(cluster));

  test.each(["a:b", "a?", "con", "con.img", "a.", "a ", "", "a\u0001", "x".repeat(256)])(
    "the name “%s” is refused",
    (name) => expect(fatNameProblem(name)).not.toBeNull(),
  );
  test.each(["update.zip", "a b.img", "Größe.img", "console.img"])("the name “%s” is good", (name) =>
    expect(fatNameProblem(name)).toBeNull(),
  );
});

describe("planning cards", () => {
  test("what does not fit on one goes on the next; nothing is lost, nothing is overfull", () => {
    const files = Array.from({ length: 9 }, (_, i) => file(`f${i}.img`, 1.5 * GB + i));
    const plan = planCards(files, 8 * GB);
    expect(plan.cards.map((c) => c.files.length)).toEqual([5, 4]);
    expect(plan.cards.flatMap((c) => c.files).sort((a, b) => (a.name < b.name ? -1 : 1))).toEqual(files);
    for (const card of plan.cards) {
      expect(card.takes).toBeLessThanOrEqual(plan.usableBytes);
      expect(card.takes % plan.clusterBytes).toBe(0);
      expect(card.takes).toBeGreaterThan(card.files.reduce((sum, f) => sum + f.bytes, 0));
    }
  });

  test("names that FAT32 can't tell apart", () => {
    expect(planCards([file("A.img", 1), file("a.IMG", 1)], 8 * GB).refused).toHaveLength(1);
    expect(planCards([file("a.img", 9 * GB)], 8 * GB).refused[0].says).toContain("larger than a file on FAT32");
    expect(planCards([file("a.img", 2 * GB)], 1 * GB).refused[0].says).toBe("It is larger than the card");
  });

  // Common practice, no source: 4 GB or more; 16 GB refused where 8 GB worked.
  test("what to mind about the card", () => {
    const minds = (gb: number) => planCards([], gb * GB).mind.join(" ");
    expect(minds(2)).toContain("4 GB or more");
    expect(minds(16)).toContain("try one of 8 GB");
    expect(minds(8)).not.toMatch(/4 GB|8 GB/);
  });
});
