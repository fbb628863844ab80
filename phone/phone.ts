import http from "node:http";
import net from "node:net";
import { readHolds } from "./acts";
import { serveAdbSocket } from "./adb/server";
import { reportOf } from "./boot";
import { serveFastbootSocket } from "./bootloader/server";
import { serveFlasherSocket } from "./download/server";
import { actByHand } from "./hands";
import type { PhoneReport, PhoneState } from "./state";

export interface PhonePorts {
  readonly fastboot: number;
  readonly adb: number;
  readonly hands: number;
  /** For the stand-in flasher; a phone without download mode needs none. */
  readonly flasher?: number;
}

/** How long a restart takes: long enough for clients to see the connection drop. */
const RESTART_MS = 150;

/**
 * A phone made of software on three loopback ports. The fastboot port listens only while the phone is in a fastboot mode,
 * the adb port only while a system or recovery would answer: as a lead would.
 */
export class Phone {
  private fastboot: net.Server | null = null;
  private adb: net.Server | null = null;
  private flasher: net.Server | null = null;
  private hands: http.Server | null = null;
  private readonly sockets = new Set<net.Socket>();
  private settling: Promise<void> = Promise.resolve();

  constructor(
    readonly state: PhoneState,
    readonly ports: PhonePorts,
  ) {}

  async start() {
    this.hands = http.createServer((request, response) => this.answerHands(request, response));
    await listen(this.hands, this.ports.hands);
    await this.settle();
  }

  report(): PhoneReport {
    return reportOf(this.state);
  }

  async stop() {
    await this.settling.catch(() => undefined);
    for (const socket of this.sockets) socket.destroy();
    await Promise.all([close(this.fastboot), close(this.adb), close(this.flasher), close(this.hands)]);
  }

  /** Opens and closes ports to match the mode, after a short restart. */
  private settle(): Promise<void> {
    this.settling = this.settling.then(async () => {
      for (const socket of this.sockets) socket.destroy();
      await Promise.all([close(this.fastboot), close(this.adb), close(this.flasher)]);
      this.flasher = null;
      this.fastboot = null;
      this.adb = null;
      await new Promise((resolve) => setTimeout(resolve, RESTART_MS));
      const { state } = this;
      if (!state.alive) return;
      if (state.mode === "bootloader" || state.mode === "userspace") {
        this.fastboot = this.serve((socket) => serveFastbootSocket(socket, state, () => this.settle()));
        await listen(this.fastboot, this.ports.fastboot);
      } else if ((state.mode === "download" || state.mode === "loader") && this.ports.flasher) {
        this.flasher = this.serve((socket) => serveFlasherSocket(socket, state, () => this.settle()));
        await listen(this.flasher, this.ports.flasher);
      } else if (
        state.mode === "recovery" ||
        state.mode === "sideload" ||
        (state.mode === "android" && state.debugging)
      ) {
        this.adb = this.serve((socket) => serveAdbSocket(socket, state, () => this.settle()));
        await listen(this.adb, this.ports.adb);
      }
    });
    return this.settling;
  }

  private serve(handle: (socket: net.Socket) => void): net.Server {
    return net.createServer((socket) => {
      this.sockets.add(socket);
      socket.on("close", () => this.sockets.delete(socket));
      handle(socket);
    });
  }

  private answerHands(request: http.IncomingMessage, response: http.ServerResponse) {
    const say = (status: number, body: unknown) => {
      response.writeHead(status, { "content-type": "application/json; charset=utf-8" });
      response.end(`${JSON.stringify(body)}\n`);
    };
    const { pathname: path, searchParams } = new URL(request.url ?? "/", "http://phone");
    if (request.method === "GET" && path === "/report") return say(200, this.report());
    const code = /^\/hands\/([\w.#%-]+)$/.exec(path)?.[1]?.replace(/(%23|#)\d+$/, "");
    if (request.method !== "POST" || !code) return say(404, { says: "Ask GET /report or POST /hands/<step code>" });
    request.resume();
    const before = `${this.state.mode}${this.state.debugging}${this.state.authorised}${this.state.alive}`;
    const wrong = actByHand(this.state, code, readHolds(searchParams.get("hold")));
    const changed = before !== `${this.state.mode}${this.state.debugging}${this.state.authorised}${this.state.alive}`;
    const settled = changed ? this.settle() : this.settling;
    settled.then(() => (wrong ? say(409, { says: wrong }) : say(200, { done: code, mode: this.state.mode })));
  }
}

/** How long a port that somebody else holds for a moment is waited for, and how often it is tried. */
const PORT_MS = 2000;
const TRY_MS = 50;

function listen(server: net.Server, port: number): Promise<void> {
  const until = Date.now() + PORT_MS;
  return new Promise((resolve, reject) => {
    const tryIt = () => {
      server.once("error", (error: NodeJS.ErrnoException) => {
        server.removeAllListeners("listening");
        if (error.code === "EADDRINUSE" && Date.now() < until) setTimeout(tryIt, TRY_MS);
        else reject(error);
      });
      server.listen(port, "127.0.0.1", () => resolve());
    };
    tryIt();
  });
}

function close(server: net.Server | null): Promise<void> {
  return new Promise((resolve) => {
    if (!server) return resolve();
    server.close(() => resolve());
    if (server instanceof http.Server) server.closeAllConnections();
  });
}
