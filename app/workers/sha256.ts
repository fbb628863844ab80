import { expose, transfer } from "comlink";
import { type DigestMaker, sha256Maker } from "~/core/files/digest";

let maker: DigestMaker | null = null;

const bench = {
  async begin() {
    maker = await sha256Maker();
  },

  /** The memory goes back to the thread that reads: it is filled again. */
  async update(bytes: Uint8Array): Promise<Uint8Array> {
    await maker?.update(bytes);
    return transfer(bytes, [bytes.buffer as ArrayBuffer]);
  },

  async digest(): Promise<string> {
    return (await maker?.digest()) ?? "";
  },

  /** Lets another thread hand over bytes by a channel of its own. */
  serve(port: MessagePort) {
    expose(bench, port);
  },
};

export type DigestBench = Pick<typeof bench, "begin" | "update" | "digest">;
export type DigestServer = typeof bench;

expose(bench);
