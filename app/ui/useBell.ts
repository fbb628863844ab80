import { useEffect, useSyncExternalStore } from "react";
import type { Tonight } from "~/app/server/timetable/tonight";

/** Whether it rings is a matter of this browser, and outlasts the page: hands go from device to device. */
const KEY = "ring-when-due";
const listeners = new Set<() => void>();
/** What was rung for already, whichever page it was on. */
const heard = new Set<string>();
let audio: AudioContext | null = null;

function isOn(): boolean {
  try {
    return localStorage.getItem(KEY) === "yes";
  } catch {
    // Where nothing may be kept, it does not ring.
    return false;
  }
}

function listen(told: () => void) {
  listeners.add(told);
  window.addEventListener("storage", told);
  return () => {
    listeners.delete(told);
    window.removeEventListener("storage", told);
  };
}

/** Whether it rings here, and how to change that. */
export function useBellOn(): readonly [on: boolean, set: (on: boolean) => void] {
  const on = useSyncExternalStore(listen, isOn, () => false);
  return [on, setBell];
}

function setBell(on: boolean) {
  localStorage.setItem(KEY, on ? "yes" : "no");
  if (on) wake();
  for (const told of listeners) told();
}

/** Browsers let nothing sound before somebody touched the page. */
function wake() {
  audio ??= new AudioContext();
  void audio.resume();
}

/** What is due of the things that run by themselves, each by a name of its own. */
export const dueOf = ({ runs }: Pick<Tonight, "runs">): string[] =>
  runs.flatMap(({ device, title, left }) => (left === 0 ? [`${device} ${title}`] : []));

/**
 * Rings once for each that is due, on whatever page it gets due; only where somebody asked for it.
 *
 * @param due what is due now, each by a name of its own
 */
export function useBell(due: readonly string[]) {
  const [on] = useBellOn();
  useEffect(() => {
    if (!on) return;
    window.addEventListener("pointerdown", wake);
    return () => window.removeEventListener("pointerdown", wake);
  }, [on]);
  const names = due.join("\n");
  useEffect(() => {
    if (!on) return;
    const now = names === "" ? [] : names.split("\n");
    const isNew = now.some((name) => !heard.has(name));
    heard.clear();
    for (const name of now) heard.add(name);
    if (isNew) ring();
  }, [names, on]);
}

function ring() {
  navigator.vibrate?.(300);
  wake();
  if (!audio) return;
  const tone = audio.createOscillator();
  tone.frequency.value = 880;
  tone.connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.4);
}
