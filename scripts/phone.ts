// npm run phone -- --device TAG [--db FILE] | --state FILE.json, --fastboot-port N --adb-port N --hands-port N --report FILE
import fs from "node:fs";
import { parseArgs } from "node:util";
import { identify } from "~/core/catalogue/identify";
import { currentFacts } from "~/core/device/lookUp";
import { phoneFromCatalogue } from "~/phone/fromCatalogue";
import { Phone } from "~/phone/phone";
import { PhoneState } from "~/phone/state";
import { readCatalogueRows } from "~/store/catalogue";
import { openStore } from "~/store/database";
import { findStanding } from "~/store/devices";
import { factsOf } from "~/store/facts";

const USAGE =
  "npm run phone -- --device TAG [--db FILE] | --state FILE.json  [--fastboot-port N] [--adb-port N] [--hands-port N --flasher-port N] [--card FILE] [--stick FILE] [--report FILE.json] [--print-state]";

function stop(says: string): never {
  console.error(`phone: ${says}`);
  process.exit(2);
}

function options() {
  try {
    return parseArgs({
      options: {
        device: { type: "string" },
        db: { type: "string", default: "data/demo.db" },
        state: { type: "string" },
        "fastboot-port": { type: "string", default: "5554" },
        "adb-port": { type: "string", default: "5555" },
        "hands-port": { type: "string", default: "5556" },
        "flasher-port": { type: "string", default: "5557" },
        // Files of the card and the stick that lie beside the phone, as the script wrote them.
        card: { type: "string" },
        stick: { type: "string" },
        report: { type: "string" },
        "print-state": { type: "boolean", default: false },
        help: { type: "boolean", default: false },
      },
    }).values;
  } catch (error) {
    return stop(`${(error as Error).message}\n${USAGE}`);
  }
}

function readState(file: string): PhoneState {
  let json: unknown;
  try {
    json = JSON.parse(fs.readFileSync(file, "utf8"));
  } catch (error) {
    return stop(`${file} can't be read as JSON: ${(error as Error).message}`);
  }
  const parsed = PhoneState.safeParse(json);
  if (!parsed.success)
    return stop(
      `${file} is not a phone's state: ${parsed.error.issues[0].path.join(".")}: ${parsed.error.issues[0].message}`,
    );
  return parsed.data;
}

function fromDatabase(tag: string, file: string): PhoneState {
  if (!fs.existsSync(file)) return stop(`there is no database ${file}. Start npm run demo once, or name one with --db`);
  const store = openStore(file);
  const standing = findStanding(store, tag);
  if (!standing) return stop(`there is no device ${tag} in ${file}`);
  const catalogue = readCatalogueRows(store);
  const facts = currentFacts(factsOf(store, standing.id));
  const identity = identify(catalogue.models, facts);
  store.close();
  if (identity.kind !== "one")
    return stop(`what model ${tag} is can't be told from its facts: a phone can't be made of it`);
  return phoneFromCatalogue({
    tag: standing.tag,
    serial: standing.serial,
    model: identity.model,
    facts,
    images: catalogue.images,
  });
}

const values = options();
if (values.help) {
  console.log(`${USAGE}\nSee docs/phone.md`);
  process.exit(0);
}
const port = (name: "fastboot-port" | "adb-port" | "hands-port" | "flasher-port") => {
  const n = Number(values[name]);
  return Number.isInteger(n) && n > 0 && n < 65_536 ? n : stop(`--${name} takes a port number, 1 to 65535`);
};
const state = values.state
  ? readState(values.state)
  : values.device
    ? fromDatabase(values.device, values.db as string)
    : stop(USAGE);
if (values.card) {
  if (!state.card) stop(`${state.tag} has no slot for a card`);
  else state.card.image = values.card;
}
if (values.stick) state.stick = values.stick;
if (values["print-state"]) {
  console.log(JSON.stringify(state, null, 2));
  process.exit(0);
}
const phone = new Phone(state, {
  fastboot: port("fastboot-port"),
  adb: port("adb-port"),
  hands: port("hands-port"),
  flasher: port("flasher-port"),
});
const finish = async () => {
  if (values.report) fs.writeFileSync(values.report, `${JSON.stringify(phone.report(), null, 2)}\n`);
  await phone.stop();
  process.exit(0);
};
process.on("SIGTERM", finish);
process.on("SIGINT", finish);
phone.start().then(
  () =>
    console.log(
      `Phone ${state.tag} (${state.codename}) is on.\n  FASTBOOT="fastboot -s tcp:127.0.0.1:${port("fastboot-port")}"\n  ADB="adb -s 127.0.0.1:${port("adb-port")}"\n  PHONE_HANDS=http://127.0.0.1:${port("hands-port")}${state.download || state.loader ? `\n  npm run flasher -- --device 127.0.0.1:${port("flasher-port")}${state.loader ? ` --kept kept/${state.tag}` : ""}` : ""}\nStop it with Ctrl-C.`,
    ),
  (error) => stop(`the ports can't be opened: ${(error as Error).message}`),
);
