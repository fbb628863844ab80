// Pages of the built application: how long one takes, and how many come when many people ask.
import { once } from "node:events";
import fs from "node:fs";
import http from "node:http";
import { performance } from "node:perf_hooks";
import { digestOf, guestOf, newSecret } from "~/app/server/access/guest";
import { hashPassword } from "~/app/server/access/password";
import { addAccount } from "~/store/accounts";
import { type Hand, openStore } from "~/store/database";
import { addSession } from "~/store/sessions";
import { measureMatrix } from "./benchMatrix";
import { median } from "./benchMedian";
import { serveBench } from "./benchServe";

export interface Bench {
  /** The database that is served. */
  readonly file: string;
  readonly hand: Hand;
  readonly tell: (what: string, ms: number, goal: number) => void;
}

/** Server time of whole pages, rendered and sent, by the built application. */
export async function measurePages({ file, tell }: Bench, devices: number, coverage: string) {
  const port = 4399;
  const server = serveBench(file, port, { UPSHIFT_PROCESSES: "1" });
  const get = async (address: string) => {
    const from = performance.now();
    await (await fetch(`http://127.0.0.1:${port}${address}`)).arrayBuffer();
    return performance.now() - from;
  };
  try {
    for (let i = 0; i < 600; i++)
      if (await get("/favicon.ico").catch(() => null)) break;
      else await new Promise((resolve) => setTimeout(resolve, 50));
    for (const [what, address, goal] of [
      [`GET /match, ${devices} devices, plan kept`, "/match?batch=big", 60],
      ["GET /match of one model", "/match/m5?batch=big&need=n0", Number.NaN],
      ["GET /bench", "/bench", Number.NaN],
      [`GET /coverage, ${coverage}`, "/coverage", Number.NaN],
    ] as const) {
      await get(address);
      const taken: number[] = [];
      for (let i = 0; i < 15; i++) taken.push(await get(address));
      tell(what, taken.sort((a, b) => a - b)[7], goal);
    }
    const matrix = await measureMatrix(`http://127.0.0.1:${port}/coverage`);
    tell(`coverage ${coverage}: first shown in the browser`, matrix.shown, 300);
    tell("the same, scrolled: 19 of 20 frames come within", matrix.frame, 50);
  } finally {
    server.kill("SIGKILL");
  }
}
/** Fifty people at once, then as fast as it goes, signed in, on as many processes as there are cores. */
export async function measureLoad({ file, tell, hand }: Bench) {
  const own = openStore(file);
  addAccount(own, { name: "Bench", role: "coordinator", password: await hashPassword("brass kettle winter") }, hand);
  const secret = newSecret();
  const soon = new Date(Date.now() + 86_400_000).toISOString();
  const at = new Date().toISOString();
  addSession(own, {
    ...{ digest: digestOf(secret), account: 1, name: "Bench", role: "coordinator", agent: "", begun: at, seen: at },
    expires: soon,
  });
  const request = new Request("http://lane/", { headers: { cookie: `lane_session=${secret}` } });
  tell(
    "who asks, of a request that is signed in",
    median(() => void guestOf(own, request, new Date()), 201),
    2,
  );
  const [device] = own.prepare("SELECT tag FROM device LIMIT 1").pluck().all() as string[];
  own.close();
  const port = 4397;
  const server = serveBench(file, port);
  const pages = ["/match?batch=big", `/devices/${device}`, "/bench?batch=big", "/clearance?batch=big"];
  const taken: number[] = [];
  // Asks as a browser does, and unpacks nothing: that is done on other machines.
  const headers = { cookie: `lane_session=${secret}`, "accept-encoding": "gzip, deflate, br" };
  const agent = new http.Agent({ keepAlive: true });
  const get = async (n: number) => {
    const from = performance.now();
    const path = pages[n % pages.length];
    const answer = await new Promise<http.IncomingMessage>((resolve, reject) => {
      http.get({ agent, host: "127.0.0.1", port, path, headers }, resolve).on("error", reject);
    });
    answer.resume();
    await once(answer, "end");
    if (answer.statusCode !== 200) throw new Error(`${path}: ${answer.statusCode}`);
    taken.push(performance.now() - from);
  };
  const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
  try {
    for (let i = 0; i < 600 && !(await fetch(`http://127.0.0.1:${port}/health`).catch(() => null)); i++)
      await pause(50);
    // Side by side, so that every process has planned the devices once.
    for (let i = 0; i < 5; i++) await Promise.all(Array.from({ length: 8 }, (_, person) => get(person + i)));
    taken.length = 0;
    await Promise.all(
      Array.from({ length: 50 }, async (_, person) => {
        await pause(person * 40);
        for (let i = 0; i < 8; i++) await Promise.all([get(person + i), pause(2000)]);
      }),
    );
    const sorted = [...taken].sort((a, b) => a - b);
    tell("50 people, a page every 2 s each: half of the pages come within", sorted[sorted.length >> 1], 60);
    tell("the same: 99 of 100", sorted[Math.floor(sorted.length * 0.99)], 300);
    const ceaselessly = async (ms: number) => {
      taken.length = 0;
      const from = performance.now();
      const asks = async (person: number) => {
        for (let i = 0; performance.now() - from < ms; i++) await get(person + i);
      };
      await Promise.all(Array.from({ length: 8 }, (_, person) => asks(person)));
      return (taken.length / (performance.now() - from)) * 1000;
    };
    // What the processes compile by and by is not measured: a lane runs for weeks.
    await ceaselessly(4000);
    const perSecond = await ceaselessly(8000);
    tell(
      `without a pause: ${perSecond.toFixed(0)} pages a second (100 or more wanted), so one takes`,
      1000 / perSecond,
      10,
    );
    console.log(`the lane's processes hold ${(memoryOf(server.pid ?? 0) / 1e6).toFixed(0)} MB (500 at most wanted)`);
  } finally {
    const gone = new Promise((resolve) => server.once("exit", resolve));
    server.kill("SIGTERM");
    await gone;
  }
}

/** Memory that a process and its children hold themselves, bytes (Linux: proc(5), VmRSS less what is shared with files). */
function memoryOf(pid: number): number {
  const own = (id: number) => {
    const status = fs.readFileSync(`/proc/${id}/status`, "utf8");
    return Number(/RssAnon:\s+(\d+)/.exec(status)?.[1] ?? 0) * 1024;
  };
  const children = fs.readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8").trim().split(" ").filter(Boolean);
  return own(pid) + children.reduce((sum, child) => sum + own(Number(child)), 0);
}
