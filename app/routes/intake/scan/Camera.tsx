import type { IScannerControls } from "@zxing/browser";
import { Camera as CameraIcon } from "lucide-react";
import { useEffect, useRef, useState } from "react";

/** Milliseconds in which the same code is not taken again: it is still in the picture. */
const SAME_CODE = 2500;

/** Scans with the computer's camera, where the browser has one. */
export function Camera({ take }: { take: (text: string) => void }) {
  const [has, setHas] = useState(false);
  const [on, setOn] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const video = useRef<HTMLVideoElement>(null);
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => setHas(typeof navigator.mediaDevices?.getUserMedia === "function"), []);
  useEffect(() => {
    if (!on || !video.current) return;
    let controls: IScannerControls | null = null;
    let stopped = false;
    let last = { text: "", at: 0 };
    const element = video.current;
    // The reader is large: it is fetched when the camera is wanted.
    import("@zxing/browser")
      .then(({ BrowserMultiFormatReader }) =>
        new BrowserMultiFormatReader().decodeFromVideoDevice(undefined, element, (result) => {
          const text = result?.getText();
          if (!text || (text === last.text && Date.now() - last.at < SAME_CODE)) return;
          last = { text, at: Date.now() };
          latest.current(text);
        }),
      )
      .then((given) => {
        controls = given;
        if (stopped) given.stop();
      })
      .catch((error: Error) => {
        setWrong(
          `The camera can't be used (${error.message}). Allow it in the browser, or scan with a scanner that types`,
        );
        setOn(false);
      });
    return () => {
      stopped = true;
      controls?.stop();
    };
  }, [on]);
  if (!has) return null;
  return (
    <div>
      <button type="button" className="btn" onClick={() => setOn(!on)} aria-pressed={on}>
        <CameraIcon size={16} aria-hidden="true" /> {on ? "Stop the camera" : "Use the camera"}
      </button>
      {wrong && <p className="wrong">{wrong}</p>}
      {on && (
        // biome-ignore lint/a11y/useMediaCaption: a live picture of a bar code has no words.
        <video ref={video} className="mt-2 w-full max-w-sm rounded-md border border-rule" aria-label="Camera picture" />
      )}
    </div>
  );
}
