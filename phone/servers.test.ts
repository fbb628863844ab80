import net from "node:net";
import { demoCatalogue } from "~/demo/catalogue";
import { makeFacts } from "~/testing/catalogueEntries";
import { serveAdbSocket } from "./adb/server";
import { serveFastbootSocket } from "./bootloader/server";
import { phoneFromCatalogue } from "./fromCatalogue";
import { Phone } from "./phone";
import type { PhoneState } from "./state";

const catalogue = demoCatalogue();

function phone(over: Partial<PhoneState> = {}): PhoneState {
  const model = catalogue.models.find((m) => m.id === "velkora-lume");
  if (!model) throw new Error("no model");
  const facts = makeFacts({
    "model.number": "VK-L8",
    "android.release": "9",
    "firmware.version": "L8-2.1",
    "build.number": "B",
  });
  return { ...phoneFromCatalogue({ tag: "T", serial: "S1", model, facts, images: catalogue.images }), ...over };
}

/** A server for one test, and a client that sends bytes and collects what comes back until it is quiet or closed. */
async function talk(
  serve: (socket: net.Socket) => void,
  parts: readonly Buffer[],
): Promise<{ bytes: Buffer; closed: boolean }> {
  const server = net.createServer(serve);
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", () => resolve()));
  const client = net.connect((server.address() as net.AddressInfo).port, "127.0.0.1");
  let bytes = Buffer.alloc(0);
  let closed = false;
  client.on("data", (d) => {
    bytes = Buffer.concat([bytes, d]);
  });
  client.on("close", () => {
    closed = true;
  });
  client.on("error", () => undefined);
  for (const part of parts) {
    client.write(part);
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  // Until nothing more comes: a busy computer answers late.
  for (let before = -1, quiet = 0; quiet < 4; ) {
    await new Promise((resolve) => setTimeout(resolve, 25));
    quiet = bytes.length === before ? quiet + 1 : 0;
    before = bytes.length;
  }
  client.destroy();
  await new Promise<void>((resolve) => server.close(() => resolve()));
  return { bytes, closed };
}

// AOSP fastboot README, TCP protocol: handshake FB01, then 8-byte big-endian length and message.
const frame = (text: string | Buffer) => {
  const body = Buffer.from(text);
  const head = Buffer.alloc(8);
  head.writeBigUInt64BE(BigInt(body.length));
  return Buffer.concat([head, body]);
};
const replies = (bytes: Buffer) => {
  const out: string[] = [];
  for (let at = 4; at + 8 <= bytes.length; ) {
    const length = Number(bytes.readBigUInt64BE(at));
    out.push(bytes.toString("utf8", at + 8, at + 8 + length));
    at += 8 + length;
  }
  return out;
};

describe("fastboot over TCP", () => {
  const fastboot = (state: PhoneState, ...parts: Buffer[]) =>
    talk((s) => serveFastbootSocket(s, state, () => undefined), parts);

  test("handshake, a variable, and messages cut anywhere", async () => {
    const all = Buffer.concat([Buffer.from("FB01"), frame("getvar:product"), frame("getvar:nothing")]);
    const { bytes } = await fastboot(
      phone({ mode: "bootloader" }),
      all.subarray(0, 3),
      all.subarray(3, 9),
      all.subarray(9),
    );
    expect(bytes.toString("latin1", 0, 4)).toBe("FB01");
    expect(replies(bytes)).toEqual(["OKAYlumen", "FAILGetVar Variable Not found"]);
  });

  test("a download in pieces, then a flash that is refused while locked", async () => {
    const { bytes } = await fastboot(
      phone({ mode: "bootloader" }),
      Buffer.from("FB01"),
      frame("download:00000006"),
      frame("abc"),
      frame("def"),
      frame("flash:recovery"),
    );
    expect(replies(bytes)).toEqual(["DATA00000006", "OKAY", "FAILFlashing is not allowed in locked state"]);
  });

  test("what is no fastboot, and a length beyond all measure, end the connection", async () => {
    expect(await fastboot(phone({ mode: "bootloader" }), Buffer.from("GET / HTTP/1.1\r\n\r\n"))).toMatchObject({
      closed: true,
    });
    const huge = Buffer.alloc(8, 0xff);
    expect((await fastboot(phone({ mode: "bootloader" }), Buffer.from("FB01"), huge)).closed).toBe(true);
  });

  test("a download larger than the device takes is refused; a temper drops the lead", async () => {
    const state = phone({ mode: "bootloader" });
    expect(replies((await fastboot(state, Buffer.from("FB01"), frame("download:7fffffff"))).bytes)).toEqual([
      "FAILdata too large",
    ]);
    const tempered = phone({
      mode: "bootloader",
      tempers: { refusesVars: [], hangsAtFirstBoot: false, dropsLeadAtDownload: 1 },
    });
    expect(await fastboot(tempered, Buffer.from("FB01"), frame("download:00000004"))).toMatchObject({ closed: true });
    expect(tempered.trail).toContain("the lead dropped out");
  });
});

// AOSP adb protocol.txt: six little-endian words, the last the complement of the first.
const packet = (command: string, arg0: number, arg1: number, data: string | Buffer = "") => {
  const body = Buffer.from(data);
  const head = Buffer.alloc(24);
  head.write(command, 0, "latin1");
  head.writeUInt32LE(arg0, 4);
  head.writeUInt32LE(arg1, 8);
  head.writeUInt32LE(body.length, 12);
  head.writeUInt32LE(
    body.reduce((a, b) => a + b, 0),
    16,
  );
  head.writeUInt32LE((head.readUInt32LE(0) ^ 0xffffffff) >>> 0, 20);
  return Buffer.concat([head, body]);
};
const packets = (bytes: Buffer) => {
  const out: { command: string; arg0: number; text: string }[] = [];
  for (let at = 0; at + 24 <= bytes.length; ) {
    const length = bytes.readUInt32LE(at + 12);
    out.push({
      command: bytes.toString("latin1", at, at + 4),
      arg0: bytes.readUInt32LE(at + 4),
      text: bytes.toString("utf8", at + 24, at + 24 + length),
    });
    at += 24 + length;
  }
  return out;
};

describe("the adb transport", () => {
  const adb = (state: PhoneState, ...parts: Buffer[]) => talk((s) => serveAdbSocket(s, state, () => undefined), parts);
  const hello = packet("CNXN", 0x01000000, 4096, "host::\0");

  test("an authorised device tells what it is; a property is read through a shell stream", async () => {
    const { bytes } = await adb(
      phone({ debugging: true, authorised: true }),
      hello,
      packet("OPEN", 7, 0, "shell:getprop ro.serialno\0"),
      packet("OKAY", 7, 1),
    );
    const got = packets(bytes);
    expect(got[0]).toMatchObject({ command: "CNXN", text: expect.stringContaining("device::") });
    expect(got.map((p) => p.command)).toEqual(["CNXN", "OKAY", "WRTE", "CLSE"]);
    expect(got[2].text).toBe("S1\n");
  });

  test("recovery and sideload say so", async () => {
    expect(packets((await adb(phone({ mode: "recovery" }), hello)).bytes)[0].text).toContain("recovery::");
    expect(packets((await adb(phone({ mode: "sideload" }), hello)).bytes)[0].text).toContain("sideload::");
  });

  test("a computer that was not allowed gets asked for its key, again and again", async () => {
    const { bytes } = await adb(phone({ debugging: true }), hello, packet("AUTH", 2, 0, Buffer.alloc(256)));
    expect(packets(bytes).map((p) => `${p.command} ${p.arg0}`)).toEqual(["AUTH 1", "AUTH 1"]);
  });

  test("an unknown service is closed, a broken header ends the connection", async () => {
    const state = phone({ debugging: true, authorised: true });
    expect(packets((await adb(state, hello, packet("OPEN", 3, 0, "jdwp:1\0"))).bytes).map((p) => p.command)).toEqual([
      "CNXN",
      "CLSE",
    ]);
    const broken = packet("OPEN", 3, 0, "shell:x\0");
    broken.writeUInt32LE(1, 20);
    expect((await adb(state, hello, broken)).closed).toBe(true);
  });

  test("a sideload that is no package is told to the client as a failure", async () => {
    const state = phone({ mode: "sideload" });
    const { bytes } = await adb(
      state,
      hello,
      packet("OPEN", 5, 0, "sideload-host:4:4096\0"),
      packet("OKAY", 5, 1),
      packet("WRTE", 5, 1, "junk"),
    );
    expect(
      packets(bytes)
        .filter((p) => p.command === "WRTE")
        .map((p) => p.text),
    ).toEqual(["00000000", "FAILFAIL"]);
    expect(state.trail.join()).toContain("sideload refused");
  });
});

/** A server on a port that the system chose. */
const holding = async () => {
  const server = net.createServer();
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", () => resolve()));
  return { server, port: (server.address() as net.AddressInfo).port };
};

test("a port that somebody else holds for a moment is waited for; one that stays held is said", async () => {
  const [hands, fastboot, adb] = [await holding(), await holding(), await holding()];
  const ports = { hands: hands.port, fastboot: fastboot.port, adb: adb.port };
  fastboot.server.close();
  const made = new Phone(phone({ mode: "bootloader" }), ports);
  const started = made.start();
  setTimeout(() => hands.server.close(), 200);
  await started;
  expect((await fetch(`http://127.0.0.1:${hands.port}/report`, { headers: { connection: "close" } })).status).toBe(200);
  await made.stop();
  const held = new Phone(phone({ mode: "recovery" }), ports);
  await expect(held.start()).rejects.toThrow("EADDRINUSE");
  adb.server.close();
  await held.stop();
});
