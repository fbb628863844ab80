import { laneRevision, onNews } from "~/app/server/http/news";

/** A line now and then, so that nothing in between closes the connection, ms. */
const BREATH = 15_000;

/** Tells a page that something was written on the lane: server-sent events (HTML Living Standard, 9.2). */
export function loader({ request }: { request: Request }) {
  const encoder = new TextEncoder();
  let end = () => {};
  const body = new ReadableStream({
    start(controller) {
      const send = (text: string) => controller.enqueue(encoder.encode(text));
      send(`retry: 2000\ndata: ${laneRevision()}\n\n`);
      const leave = onNews((revision) => send(`data: ${revision}\n\n`));
      const breath = setInterval(() => send(": still here\n\n"), BREATH);
      end = () => {
        leave();
        clearInterval(breath);
      };
      request.signal.addEventListener("abort", () => {
        end();
        try {
          controller.close();
        } catch {
          // The stream was closed from the other side already.
        }
      });
    },
    cancel: () => end(),
  });
  return new Response(body, {
    headers: {
      "content-type": "text/event-stream",
      "cache-control": "no-store, no-transform",
      "x-accel-buffering": "no",
    },
  });
}
