import cluster from "node:cluster";
import fs from "node:fs";
import http from "node:http";
import https from "node:https";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { constants } from "node:zlib";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express from "express";
import { keepDaily } from "~/app/server/backup/daily";
import { db } from "~/app/server/http/context";
import { dbFile } from "~/app/server/http/dbFile";
import { log } from "~/app/server/http/log";
import { passWords } from "~/app/server/jobs/passWords";
import { openStore } from "~/store/database";
import { divisionDrafts, timetables } from "~/store/drafts";
import { refusalAtDoor } from "./door";
import { HEADERS } from "./headers";
import { plainPage } from "./plainPage";
import { isAlone, ownNames, readSettings, type ServeSettings } from "./settings";

/** How long requests that are under way may take to end when the lane is stopped, ms. */
const GRACE = 10_000;

/** The application behind its door. */
async function makeApp(settings: ServeSettings) {
  const build = await import(pathToFileURL(path.resolve("build/server/index.js")).href);
  const app = express();
  app.disable("x-powered-by");
  if (settings.UPSHIFT_PROXIES.length) app.set("trust proxy", settings.UPSHIFT_PROXIES);
  app.get("/health", (_request, response) => {
    response.set({ ...HEADERS, "cache-control": "no-store" }).type("text/plain");
    try {
      db().prepare("SELECT n FROM revision LIMIT 1").get();
      response.send("in order\n");
    } catch (error) {
      log.error(error, "the database can't be read");
      response.status(503).send("the database can't be read\n");
    }
  });
  const own = ownNames(settings);
  app.use((request, response, next) => {
    response.set(HEADERS);
    request.headers["x-lane-address"] = request.ip ?? "";
    const refused = refusalAtDoor({ method: request.method, url: request.originalUrl, headers: request.headers }, own);
    if (!refused) return next();
    log.info({ method: request.method, status: refused.status }, "not let in");
    if (refused.status === 405) response.set("allow", "GET, HEAD, POST");
    response.status(refused.status).type("html").send(plainPage(refused.says));
  });
  // Quick rather than small: pages are made for few readers near by.
  app.use(compression({ brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 2 } } }));
  const client = path.resolve("build/client");
  app.use("/assets", express.static(path.join(client, "assets"), { immutable: true, maxAge: "1y", fallthrough: true }));
  const files = express.static(client, { maxAge: "1h", index: false });
  // Pages are not looked for on the disk first.
  app.use((request, response, next) => (path.extname(request.path) ? files(request, response, next) : next()));
  app.use((request, response, next) => {
    const from = performance.now();
    // Who asked, and for which device, is nobody's business here: the method, how it ended and how long it took.
    response.on("finish", () => {
      log.debug(
        { method: request.method, status: response.statusCode, ms: Math.round(performance.now() - from) },
        "answered",
      );
      // A body that nobody wanted is read away, so that the answer gets through and the next request with it.
      if (request.complete) return;
      request.removeAllListeners("data");
      request.resume();
    });
    // Pages and downloads bring a policy of their own (app/server/http/guard.ts).
    response.removeHeader("content-security-policy");
    next();
  });
  app.all("*", createRequestHandler({ build, mode: process.env.NODE_ENV }));
  const broken: express.ErrorRequestHandler = (error, _request, response, _next) => {
    log.error(error, "a request failed");
    if (response.headersSent) response.destroy();
    else
      response
        .set(HEADERS)
        .status(500)
        .type("html")
        .send(plainPage("Something went wrong on our side. Nothing was half-written"));
  };
  app.use(broken);
  return app;
}

/**
 * How long a line on which nobody asks is kept, ms: longer than clients and proxies keep theirs (a minute is usual), so that
 * it is they who let go. Of two that let go and ask at the same moment, whoever asks would be cut off.
 */
const LINE_KEPT = 65_000;

/** Answers requests in this process until it is told to stop. */
async function answer(settings: ServeSettings) {
  const app = await makeApp(settings);
  const { UPSHIFT_TLS_CERT: cert, UPSHIFT_TLS_KEY: key } = settings;
  const limits = {
    requestTimeout: 120_000,
    headersTimeout: 20_000,
    maxHeaderSize: 16_384,
    keepAliveTimeout: LINE_KEPT,
  };
  const server =
    cert && key
      ? https.createServer({ ...limits, cert: fs.readFileSync(cert), key: fs.readFileSync(key) }, app)
      : http.createServer(limits, app);
  server.on("error", (error) => {
    log.fatal(error, "the lane can't listen");
    process.exit(1);
  });
  server.listen(settings.PORT, settings.HOST);
  if (settings.UPSHIFT_BACKUPS && process.env.UPSHIFT_KEEPER === "yes")
    keepDaily(dbFile(), settings.UPSHIFT_BACKUPS, settings.UPSHIFT_BACKUPS_KEPT);
  const stop = () => {
    setTimeout(() => process.exit(0), GRACE).unref();
    server.close(() => process.exit(0));
    // Pages that only listen for news would hold it open for ever.
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), GRACE / 4).unref();
  };
  process.once("SIGTERM", stop);
  process.once("SIGINT", stop);
  process.once("disconnect", stop);
}

/** Keeps the processes that answer alive, and passes on what they tell each other. */
function lead(settings: ServeSettings) {
  // Threads that read large files come and go: with a heap of the C library for each, what they gave back is not given back.
  process.env.MALLOC_ARENA_MAX ??= "1";
  // And what is large goes back as soon as it is free: left to itself the library keeps more the larger it was.
  process.env.MALLOC_MMAP_THRESHOLD_ ??= "131072";
  process.env.MALLOC_TRIM_THRESHOLD_ ??= "131072";
  let stopping = false;
  let born = 0;
  let deaths = 0;
  let keeper = 0;
  const fork = (isKeeper: boolean) => {
    const worker = cluster.fork({ UPSHIFT_PROCESS: String(++born), UPSHIFT_KEEPER: isKeeper ? "yes" : "" });
    // One of them does what is done once for the house: daily sweeping, asking the register.
    if (isKeeper) keeper = worker.id;
  };
  for (let n = 0; n < settings.UPSHIFT_PROCESSES; n++) fork(n === 0);
  passWords();
  cluster.on("exit", (worker, code) => {
    if (stopping) return;
    // A process that can't even listen will not listen the next time.
    if (code === 1 && !worker.exitedAfterDisconnect && ++deaths >= settings.UPSHIFT_PROCESSES * 3) process.exit(1);
    log.error({ code }, "a process ended by itself: another takes its place");
    fork(worker.id === keeper);
  });
  const stop = () => {
    stopping = true;
    for (const worker of Object.values(cluster.workers ?? {})) worker?.process.kill("SIGTERM");
    cluster.on("exit", () => {
      if (Object.keys(cluster.workers ?? {}).length === 0) process.exit(0);
    });
    setTimeout(() => process.exit(0), GRACE * 1.5).unref();
  };
  process.once("SIGTERM", stop);
  process.once("SIGINT", stop);
}

const settings = readSettings(process.env);
if (Array.isArray(settings)) {
  for (const says of settings) console.error(`start: ${says}`);
  process.exit(2);
}
// Brought up to date once, before anybody asks; what was being worked out when the lane went down broke off with it.
if (cluster.isPrimary) {
  const store = openStore(dbFile());
  for (const drafts of [divisionDrafts, timetables]) drafts.lose(store);
  store.close();
}
process.env.UPSHIFT_ALONE = isAlone(settings) ? "yes" : "";
if (cluster.isPrimary && settings.UPSHIFT_PROCESSES > 1) lead(settings);
else {
  process.env.UPSHIFT_KEEPER ??= "yes";
  await answer(settings);
}
