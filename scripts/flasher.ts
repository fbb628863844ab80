// npm run flasher -- --files DIR --device HOST:PORT [--port N]: the stand-in flasher, for practice with the simulated phone
import { parseArgs } from "node:util";
import { Flasher } from "~/standins/flasher/server";

const USAGE = "npm run flasher -- [--files DIR] [--kept DIR] [--device HOST:PORT] [--port N]";

function stop(says: string): never {
  console.error(`flasher: ${says}`);
  process.exit(2);
}

function options() {
  try {
    return parseArgs({
      options: {
        files: { type: "string", default: "data/files" },
        kept: { type: "string" },
        device: { type: "string", default: "127.0.0.1:5557" },
        port: { type: "string", default: "5558" },
        help: { type: "boolean", default: false },
      },
    }).values;
  } catch (error) {
    return stop(`${(error as Error).message}\n${USAGE}`);
  }
}

const values = options();
if (values.help) {
  console.log(`${USAGE}\nSee docs/phone.md`);
  process.exit(0);
}
const port = (text: string) => {
  const n = Number(text);
  return Number.isInteger(n) && n > 0 && n < 65_536 ? n : stop(`“${text}” is no port number, 1 to 65535`);
};
const [host, devicePort] = (values.device ?? "").split(":");
const flasher = new Flasher({
  files: values.files ?? "data/files",
  kept: values.kept,
  host,
  port: port(devicePort ?? ""),
});
flasher.listen(port(values.port ?? "")).then(
  (address) => console.log(`The stand-in flasher is on.\n  FLASHER=${address}\nStop it with Ctrl-C.`),
  (error) => stop(`the port can't be opened: ${(error as Error).message}`),
);
