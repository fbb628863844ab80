import { db } from "~/app/server/http/context";
import { readRevisions } from "~/store/catalogue";

/** How often the database is asked whether anything was written, ms. */
const LOOK = 400;
/** A line now and then, so that nothing in between closes the connection. */
const BREATH = 15_000;

/** Tells a page that something was written about a device, a run or a batch: server-sent events (HTML Living Standard, 9.2). */
export function loader({ request }: { request: Request }) {
  const encoder = new TextEncoder();
  let timer: NodeJS.Timeout | undefined;
  const body = new ReadableStream({
    start(controller) {
      let seen = readRevisions(db()).lane;
      let quiet = 0;
      const send = (text: string) => controller.enqueue(encoder.encode(text));
      send(`retry: 2000\ndata: ${seen}\n\n`);
      timer = setInterval(() => {
        const { lane } = readRevisions(db());
        quiet += LOOK;
        if (lane !== seen) {
          seen = lane;
          quiet = 0;
          send(`data: ${lane}\n\n`);
        } else if (quiet >= BREATH) {
          quiet = 0;
          send(": still here\n\n");
        }
      }, LOOK);
      request.signal.addEventListener("abort", () => {
        clearInterval(timer);
        try {
          controller.close();
        } catch {
          // The stream was closed from the other side already.
        }
      });
    },
    cancel() {
      clearInterval(timer);
    },
  });
  return new Response(body, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
}
