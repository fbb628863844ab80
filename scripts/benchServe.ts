import { type ChildProcess, spawn } from "node:child_process";
import { SERVE } from "./serving.mjs";

/** The built application over a database, answering to itself only. */
export const serveBench = (db: string, port: number, more: Readonly<Record<string, string>> = {}): ChildProcess =>
  spawn(process.execPath, SERVE, {
    stdio: "ignore",
    env: { ...process.env, NODE_ENV: "production", HOST: "127.0.0.1", PORT: String(port), UPSHIFT_DB: db, ...more },
  });
