import http from "node:http";
import type { AddressInfo } from "node:net";
import type { z } from "zod";
import { runDump, runRows } from "./board";
import { flasherPage } from "./page";
import { Asked, AskedDump, AskedRows, type FlasherPlace, type Ran, runFlasher } from "./run";

const MOST_BYTES = 65_536;

/** The stand-in flasher: a page for people, the same as JSON over HTTP. Loopback only. */
export class Flasher {
  private readonly server: http.Server;
  private busy = false;

  constructor(private readonly place: FlasherPlace) {
    this.server = http.createServer((request, response) => this.answer(request, response));
  }

  /** @returns its address */
  listen(port = 0): Promise<string> {
    return new Promise((resolve, reject) => {
      this.server.once("error", reject);
      this.server.listen(port, "127.0.0.1", () =>
        resolve(`http://127.0.0.1:${(this.server.address() as AddressInfo).port}`),
      );
    });
  }

  close(): Promise<void> {
    return new Promise((resolve) => {
      this.server.close(() => resolve());
      this.server.closeAllConnections();
    });
  }

  private answer(request: http.IncomingMessage, response: http.ServerResponse) {
    const say = (status: number, type: string, body: string) => {
      response.writeHead(status, { "content-type": `${type}; charset=utf-8` });
      response.end(body);
    };
    const words = (status: number, text: string) => say(status, "text/plain", `${text}\n`);
    const { pathname, searchParams } = new URL(request.url ?? "/", "http://flasher");
    if (request.method === "GET" && pathname === "/")
      return say(200, "text/html", flasherPage(this.place, searchParams.get("edition")));
    if (request.method !== "POST" || !["/run", "/dump"].includes(pathname))
      return words(404, "Ask GET /, POST /run or POST /dump");
    // A page of somebody else's in the same browser can send text, never JSON, without being asked for leave first.
    if (!request.headers["content-type"]?.startsWith("application/json")) return words(415, "Send JSON");
    const chunks: Buffer[] = [];
    let bytes = 0;
    request.on("data", (chunk: Buffer) => {
      bytes += chunk.length;
      if (bytes > MOST_BYTES) request.destroy();
      else chunks.push(chunk);
    });
    request.on("end", async () => {
      const asked = readAsked(Buffer.concat(chunks).toString("utf8"), pathname === "/dump");
      if (typeof asked === "string") return words(400, asked);
      if (this.busy) return words(409, "It is at work: wait until it is done");
      this.busy = true;
      try {
        const ran = await asked(this.place);
        words(ran.ok ? 200 : 409, ran.lines.join("\n"));
      } finally {
        this.busy = false;
      }
    });
  }
}

/** What is to be done, ready to be done at a place; words where it is nothing that this flasher does. */
function readAsked(text: string, isDump: boolean): ((place: FlasherPlace) => Promise<Ran>) | string {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return "This is no JSON";
  }
  if (isDump) return parsed(AskedDump, json, runDump);
  const isRows = typeof json === "object" && json !== null && "rows" in json;
  return isRows ? parsed(AskedRows, json, runRows) : parsed(Asked, json, runFlasher);
}

function parsed<T>(schema: z.ZodType<T>, json: unknown, run: (asked: T, place: FlasherPlace) => Promise<Ran>) {
  const read = schema.safeParse(json);
  if (read.success) return (place: FlasherPlace) => run(read.data, place);
  const [issue] = read.error.issues;
  return `${issue.path.join(".") || "settings"}: ${issue.message}`;
}
