import { guessFacets, guessWords } from "./facets";

describe("what a file's name suggests", () => {
  test.each([
    ["meadow-15-arm64-ab.img", { cpu: "arm64", binder: "64", slots: "ab" }],
    ["Meadow_15_ARM64_A-only.img.xz", { cpu: "arm64", binder: "64", slots: "a-only" }],
    ["meadow-11-a64-ab-vndklite.img", { cpu: "arm", binder: "64", slots: "ab", patching: "vndk-lite" }],
    ["meadow_arm32_binder64_ab.img", { cpu: "arm", binder: "64", slots: "ab" }],
    ["meadow-arm.img", { cpu: "arm", binder: null, slots: null }],
    ["meadow-arm-binder32-plain-rooted.img", { cpu: "arm", binder: "32", services: false, rooted: true }],
    ["meadow-arm64-v8a-with-services-no-root.zip", { cpu: "arm64", services: true, rooted: false }],
    ["meadow-arm64-patched.img", { patching: "heavy" }],
    ["meadow-arm64-light.img", { patching: "light" }],
    ["meadow-arm64-no-services.img", { services: false }],
    // Words inside other words say nothing.
    ["charm-abacus-summit-rootless.img", { cpu: null, slots: null, rooted: null, services: null }],
    ["system.img", { cpu: null, binder: null, slots: null, patching: null }],
  ])("%s", (name, expected) => expect(guessFacets(name)).toMatchObject(expected));

  test("each guess says what it rests on; a name that says nothing gives none", () => {
    expect(guessWords(guessFacets("meadow-a64-ab-vanilla.img"))).toEqual([
      "processor arm (“a64”)",
      "binder 64-bit (“a64”)",
      "layout A/B (root folder inside system) (“ab”)",
      "without services (“vanilla”)",
    ]);
    expect(guessWords(guessFacets("system.img"))).toEqual([]);
  });
});
