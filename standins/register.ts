import http from "node:http";
import type { AddressInfo } from "node:net";
import { type RegisterAnswer, RegisterQuestion } from "~/core/clearance/register";

/** A number that the stand-in holds as lost. */
export interface LostNumber {
  readonly number: string;
  readonly reference: string;
  readonly reported?: string;
}

/** How the stand-in behaves: as it should, or in one of the ways in which real services fail. */
export type Mood = "well" | "garbage" | "wrong-shape" | "busy" | "slow" | "silent";

const SLOW = 20_000;
const MOST_BYTES = 4096;

/**
 * A stand-in for a register of lost devices: HTTP on loopback, JSON. docs/register.md holds the contract, which a real one
 * can be put behind.
 */
export class RegisterStandIn {
  mood: Mood = "well";
  /** Numbers that were asked about, in order. */
  readonly asked: string[] = [];
  private readonly server: http.Server;

  constructor(private readonly lost: readonly LostNumber[]) {
    this.server = http.createServer((request, response) => {
      const chunks: Buffer[] = [];
      let bytes = 0;
      request.on("data", (chunk: Buffer) => {
        bytes += chunk.length;
        if (bytes > MOST_BYTES) request.destroy();
        else chunks.push(chunk);
      });
      request.on("end", () => this.answer(request, Buffer.concat(chunks).toString("utf8"), response));
    });
  }

  /** Listens on loopback. @returns its address */
  listen(port = 0): Promise<string> {
    return new Promise((resolve, reject) => {
      this.server.once("error", reject);
      this.server.listen(port, "127.0.0.1", () => {
        resolve(`http://127.0.0.1:${(this.server.address() as AddressInfo).port}`);
      });
    });
  }

  close() {
    this.server.closeAllConnections();
    this.server.close();
  }

  private answer(request: http.IncomingMessage, body: string, response: http.ServerResponse) {
    const send = (status: number, text: string) => {
      response.writeHead(status, { "content-type": "application/json" });
      response.end(text);
    };
    if (request.method !== "POST" || request.url !== "/v1/checks") {
      send(404, JSON.stringify({ error: "POST /v1/checks" }));
      return;
    }
    let question: RegisterQuestion;
    try {
      question = RegisterQuestion.parse(JSON.parse(body));
    } catch {
      send(400, JSON.stringify({ error: "the question is {kind, number}" }));
      return;
    }
    this.asked.push(question.number);
    const found = this.lost.find((l) => l.number.toLowerCase() === question.number.toLowerCase());
    const answer: RegisterAnswer = found
      ? { state: "lost", reference: found.reference, ...(found.reported ? { reported: found.reported } : {}) }
      : { state: "clear" };
    const text = JSON.stringify(answer);
    switch (this.mood) {
      case "well":
        send(200, text);
        break;
      case "garbage":
        send(200, `<html>\0${"x".repeat(100_000)}`);
        break;
      case "wrong-shape":
        send(200, JSON.stringify({ state: "maybe", reference: 7 }));
        break;
      case "busy":
        send(503, JSON.stringify({ error: "busy" }));
        break;
      case "slow":
        setTimeout(() => send(200, text), SLOW).unref();
        break;
      case "silent":
        break;
    }
  }
}
