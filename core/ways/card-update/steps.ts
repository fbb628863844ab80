import { filesOf } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

/** Until the start picture shows, and how long the volume keys are held on. Common practice, no source. */
const UNTIL_LOGO = 10;
const AFTER_LOGO = 8;

/** The folder onto a card that the device can read, the card in, the update started by keys. */
export function cardUpdateSteps({ bench, build }: Steps, { image }: IndexedImage) {
  const folder = image.cardFolder ?? "update";
  const { card } = bench.model;
  bench.gate(
    { kind: "card", folder, file: filesOf(image)[0] },
    {
      title: `Make the card: the folder ${folder} at its root`,
      says: `FAT32, 4 GB or more${card?.largest ? `, at most ${(card.largest / 1e9).toLocaleString("en")} GB` : "; have one of 8 GB at hand, larger ones were refused"}. Unpack the package; the folder ${folder} itself goes to the root of the card: not what it lies in, not the zip.`,
      normal: `The card shows one folder, ${folder}, with files in it`,
      otherwise: "The card can't be written, or is full: format it as FAT32 and begin this step again",
      usual: 300,
      latest: 1800,
      neededBy: "the update",
    },
  );
  bench.hands("card.insert", {
    title: "Switch off, card in",
    says: "Switch the device off; one that no longer starts: hold power for 12 s. Put the card in.",
    normal: "It is off, the card sits flush",
    otherwise: "The card does not fit or springs out: another card",
    usual: 60,
    latest: 300,
  });
  bench.hold(
    "keys.card-update",
    [
      { keys: ["volume up", "volume down", "power"], seconds: UNTIL_LOGO },
      { keys: ["volume up", "volume down"], seconds: AFTER_LOGO },
    ],
    {
      title: "Start the update: three keys, then two",
      says: `${card?.keys ?? "Both volume keys and power"}. At the start picture let go of power and keep both volume keys for ${AFTER_LOGO} s more, until a percentage shows.`,
      normal: "A percentage that goes up; 2 to 10 min; then it restarts by itself",
      otherwise:
        "Android starts, or nothing shows: the folder lies too deep, the card is too large, or the keys came off early. Look at the card, take a smaller one, do it again. It names a reason: wrong region or number, stop",
      usual: 360,
      latest: 1200,
      caution: "The update wipes the device",
      neededBy: "the first start",
    },
  );
  bench.mode = "android-without-debugging";
  build.current = image.build;
}
