import type { Cpu } from "./common";

/**
 * Processor kinds that native code runs on.
 *
 * @source Android developer documentation, "Android ABIs": 64-bit ARM processors of phones run 32-bit code too, as far as
 *         the build keeps it
 */
const TAKES: Record<Cpu, readonly string[]> = {
  arm64: ["arm64-v8a", "armeabi-v7a", "armeabi"],
  arm: ["armeabi-v7a", "armeabi"],
};

/** True when the native code of an app exists for 64-bit processors only. */
export const isOnly64 = (abis: readonly string[]): boolean =>
  abis.length > 0 && abis.every((a) => a === "arm64-v8a" || a === "x86_64" || a === "riscv64");

/**
 * True when an app has native code, but none for a processor of this kind; without native code it runs on every one.
 *
 * @example lacksCpu(["arm64-v8a"], "arm") // true
 */
export const lacksCpu = (abis: readonly string[], cpu: Cpu): boolean =>
  abis.length > 0 && !abis.some((a) => TAKES[cpu].includes(a));
