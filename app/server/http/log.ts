import pino from "pino";

/** The server's log: one JSON line an event on standard error, so that standard output stays for answers. */
export const log = pino({ level: process.env.UPSHIFT_LOG ?? "info", base: undefined }, pino.destination(2));
