import type { ShownPin } from "~/app/server/division/pins";
import { Link } from "~/app/ui/Link";
import { Do } from "./Do";

/** What was put by hand and stays so whenever it is divided, each with a way to let it go. */
export function Pins({ pins }: { pins: readonly ShownPin[] }) {
  if (pins.length === 0) return null;
  return (
    <section className="sheet mt-4" aria-labelledby="pins">
      <h2 id="pins">Pinned by hand</h2>
      <p className="hint">Dividing leaves them so. Let one go, and it goes wherever it is of most use.</p>
      <ul className="mt-2 grid gap-x-6 lg:grid-cols-2">
        {pins.map((pin) => (
          <li key={pin.device} className="flex items-center justify-between gap-3 border-t border-rule py-1">
            <span>
              <Link to={`/devices/${pin.device}`} className="font-bold">
                {pin.device}
              </Link>{" "}
              {placeText(pin)}
            </span>
            <Do what="let-go" fields={{ device: pin.device }}>
              Let {pin.device} go
            </Do>
          </li>
        ))}
      </ul>
    </section>
  );
}

function placeText({ there, never, reserve }: ShownPin): string {
  if (there) return `goes to ${there}`;
  return reserve ? "stays in the reserve" : `never goes to ${never.join(", ")}`;
}
