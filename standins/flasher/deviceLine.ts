import net from "node:net";
import type { FlasherPlace } from "./run";

interface Answer {
  readonly ok: boolean;
  readonly says?: string;
  readonly mode?: string;
  readonly board?: string;
  /** For a loader board: its rows; what stands in one, as base64. */
  readonly rows?: readonly string[];
  readonly data?: string;
}

const PATIENCE_MS = 15_000;

/** One connection to a device in a mode of the flasher's: each line that is sent gets one line back. */
export class DeviceLine {
  private buffer = "";
  private readonly waiting: { resolve: (answer: Answer) => void; reject: (error: Error) => void }[] = [];

  private constructor(private readonly socket: net.Socket) {
    socket.setTimeout(PATIENCE_MS, () => this.lost("the device does not answer any more"));
    socket.on("close", () => this.lost("the device is gone from the port"));
    socket.on("error", () => this.lost("the device is gone from the port"));
    socket.on("data", (chunk) => {
      this.buffer += chunk.toString("utf8");
      for (let end = this.buffer.indexOf("\n"); end >= 0; end = this.buffer.indexOf("\n")) {
        const line = this.buffer.slice(0, end);
        this.buffer = this.buffer.slice(end + 1);
        this.waiting.shift()?.resolve(JSON.parse(line));
      }
    });
  }

  /** @returns words where no device is there */
  static open({ host, port }: FlasherPlace): Promise<DeviceLine | string> {
    return new Promise((resolve) => {
      const socket = net.connect({ host, port });
      socket.once("connect", () => resolve(new DeviceLine(socket)));
      socket.once("error", () => resolve("no device is added: not in download mode, another port, or no driver"));
    });
  }

  ask(line: object): Promise<Answer> {
    this.socket.write(`${JSON.stringify(line)}\n`);
    return new Promise((resolve, reject) => this.waiting.push({ resolve, reject }));
  }

  write(partition: string, bytes: Uint8Array): Promise<Answer> {
    const answer = this.ask({ do: "write", partition, bytes: bytes.length });
    this.socket.write(bytes);
    return answer;
  }

  close() {
    this.socket.end();
  }

  private lost(says: string) {
    for (const one of this.waiting.splice(0)) one.reject(new Error(says));
    this.socket.destroy();
  }
}
