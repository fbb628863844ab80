// Somebody who means harm: every route by every method with bodies that are none, other sites' pages, bodies without an end.
import fs from "node:fs";
import http from "node:http";
import { expect, test } from "../rig/app";

test.use({ desk: "hostile" });

/** Every address of the application, from its own table of routes; the live stream never ends and is left out. */
const PATTERNS = [
  "",
  ...[...fs.readFileSync("app/routes.ts", "utf8").matchAll(/route\("([^"]+)"/g)].map((m) => m[1]),
].filter((p) => p !== "*" && !p.endsWith("/live"));
const THERE: Record<string, string> = {
  ":tag": "TH-001",
  ":name": "Drop-off%20desk",
  ":model": "velkora-vista20",
  ":batch": "2026-11-autumn",
  ":file": "SHA256SUMS",
  ":part": "names",
};
const NOT_THERE = [
  "no-such",
  "%00",
  "-1",
  "99999999999999999999",
  "..%2f..%2fetc",
  "%F0%9F%92%A5",
  "__proto__",
  "constructor",
];
const fill = (pattern: string, value?: string) => `/${pattern.replace(/:\w+/g, (name) => value ?? THERE[name] ?? "1")}`;
const FORM = "application/x-www-form-urlencoded";
const BODIES: readonly [type: string | null, body: string][] = [
  ["application/json", '{"a":1}'],
  ["application/xml", "<a/>"],
  ["text/plain", "a=b"],
  [null, "abc"],
  ["multipart/form-data", "nothing"],
  ["multipart/form-data; boundary=x", "--x\r\nbroken"],
  [
    "multipart/form-data; boundary=x",
    '--x\r\nContent-Disposition: form-data; name="file"; filename="a.csv"\r\n\r\n\0\0\r\n--x--\r\n',
  ],
  [
    "multipart/form-data; boundary=x",
    '--x\r\nContent-Disposition: form-data; name="do"; filename="a"\r\n\r\nx\r\n--x--\r\n',
  ],
  [FORM, ""],
  [FORM, "__proto__=1&a=2"],
  [FORM, "files.99999999.name=x&images%5B999999%5D=1"],
  [FORM, `donor=${"x".repeat(100_000)}`],
  [FORM, "a=%ZZ&b=%00&do=take&act=done&place=99999999999&tag=%00&way=x&kind=zz&version=NaN"],
  [
    FORM,
    "act=done&place=-1&do=drop&step=-5&to=-1&fact=abc&key=zz&value=%00&text=%00&id=-1&list=x&tag=..&name=%00&need=zz",
  ],
];

test("every method, type and body on every route gets an answer in words, and never one that says it is our fault", async ({
  app,
}) => {
  test.setTimeout(240_000);
  const wrong: string[] = [];
  let asked = 0;
  async function ask(method: string, url: string, type: string | null = null, body?: string) {
    asked++;
    const headers: Record<string, string> = { origin: app.url, ...(type ? { "content-type": type } : {}) };
    const answer = await fetch(app.url + url, {
      method,
      body,
      headers,
      redirect: "manual",
      signal: AbortSignal.timeout(10_000),
    });
    const text = await answer.text();
    const isTaken = answer.status < 400 && (type === "application/xml" || !["GET", "POST"].includes(method));
    if (answer.status >= 500 || isTaken || (answer.status >= 400 && text.trim() === ""))
      wrong.push(`${answer.status} ${method} ${url} ${type ?? ""} ${(body ?? "").slice(0, 40)}`);
  }
  expect(PATTERNS.length).toBeGreaterThan(70);
  for (const pattern of PATTERNS)
    for (const end of ["", ".data"]) {
      await ask("GET", fill(pattern) + end);
      if (pattern.includes(":")) for (const value of NOT_THERE) await ask("GET", fill(pattern, value) + end);
      await ask(
        "GET",
        `${fill(pattern)}${end}?batch=%00&need=__proto__&q=%22*&page=-1&line=zz&list=-1&device=zz&tags=%00&compare=zz`,
      );
      for (const method of ["PUT", "DELETE", "PATCH", "OPTIONS"]) await ask(method, fill(pattern) + end);
      for (const [type, body] of BODIES) await ask("POST", fill(pattern) + end, type, body);
    }
  expect(wrong).toEqual([]);
  expect(asked).toBeGreaterThan(3000);
});

test("another site's page, another name, a malformed cookie", async ({ app }) => {
  const say = async (headers: Record<string, string>, method = "POST") =>
    (
      await fetch(`${app.url}/person`, {
        method,
        headers: { "content-type": FORM, ...headers },
        body: method === "POST" ? "name=Eve" : undefined,
        redirect: "manual",
      })
    ).status;
  expect(await say({})).toBe(403);
  expect(await say({ origin: "http://evil.example" })).toBe(403);
  expect(await say({ origin: "null" })).toBe(403);
  expect(await say({ referer: `${app.url}/person` })).toBe(302);
  for (const cookie of ["upshift_person=%E0%A4%A", "upshift_person=%00", "=;;=", "__proto__=1"])
    expect(await say({ cookie }, "GET"), cookie).toBe(200);
  // fetch sets Host itself: the bare client does not.
  const host = await new Promise((resolve) =>
    http.get(`${app.url}/`, { headers: { host: "rebound.example" } }, (r) => resolve(r.statusCode)),
  );
  expect(host).toBe(421);
});

test("every answer tells the browser what it may do", async ({ app }) => {
  for (const [url, status] of [
    ["/", 200],
    ["/nowhere", 404],
    ["/records.csv", 200],
    ["/match.data", 200],
    ["/favicon.ico", 200],
    ["/health", 200],
    ["/%00", 400],
  ] as const) {
    const answer = await fetch(app.url + url);
    expect(answer.status, url).toBe(status);
    const of = (name: string) => answer.headers.get(name) ?? "";
    expect(of("content-security-policy"), url).toContain("frame-ancestors 'none'");
    expect(of("content-security-policy"), url).not.toMatch(/script-src[^;]*'unsafe-inline'/);
    expect(of("x-content-type-options"), url).toBe("nosniff");
    expect(of("referrer-policy"), url).toBe("same-origin");
  }
  const page = await (await fetch(`${app.url}/`)).text();
  const nonces = new Set([...page.matchAll(/<script[^>]*>/g)].map((m) => /nonce="([^"]+)"/.exec(m[0])?.[1]));
  expect([...nonces]).toEqual([expect.any(String)]);
});

test("bodies without an end are cut off, and nobody waits for it", async ({ app }) => {
  test.setTimeout(60_000);
  const slowest = async () => {
    const from = performance.now();
    expect((await fetch(`${app.url}/`)).status).toBe(200);
    return performance.now() - from;
  };
  const chunk = new Uint8Array(1_000_000).fill(97);
  let left = 60;
  const body = new ReadableStream({
    pull(controller) {
      if (left-- > 0) controller.enqueue(chunk);
      else controller.close();
    },
  });
  const sent = fetch(`${app.url}/policy`, {
    method: "POST",
    body,
    duplex: "half",
    headers: { origin: app.url, "content-type": FORM },
  } as RequestInit);
  await slowest();
  const answer = await sent;
  expect(answer.status).toBe(413);
  expect(await answer.text()).toContain("at once");
  await slowest();
});

test("a pack with hundreds of thousands of entries is told what it is, and not sent back", async ({ app }) => {
  const pack = `{"upshiftPack":1,"models":[${'{"id":"x","name":"y"},'.repeat(300_000)}{}]}`;
  const send = async (name: string, value: string | Blob) => {
    const body = new FormData();
    if (typeof value === "string") body.set(name, value);
    else body.set(name, value, "pack.json");
    const answer = await fetch(`${app.url}/catalogue`, { method: "POST", body, headers: { origin: app.url } });
    const page = await answer.text();
    expect(page.length).toBeLessThan(100_000);
    return `${answer.status} ${page.replaceAll(/<[^>]+>/g, "")}`;
  };
  expect(await send("text", pack)).toMatch(/^413 .*choose the pack as a file/s);
  expect(await send("file", new Blob([pack]))).toMatch(/^400 .*Nothing was changed/s);
  expect(await send("file", new Blob([pack, pack]))).toMatch(/^413 .*larger than 8 MB/s);
});

test("a pasted list of megabytes is told to come as a file, and not sent back", async ({ app }) => {
  const body = new URLSearchParams({ title: "Cellar", source: "The cellar", text: "tag;model\n".repeat(400_000) });
  const answer = await fetch(`${app.url}/intake/list`, { method: "POST", body, headers: { origin: app.url } });
  const page = await answer.text();
  expect(answer.status).toBe(413);
  expect(page.replaceAll(/<[^>]+>/g, "")).toMatch(/pasted has 4\.0 MB\. Up to 2 MB .* Nothing was taken in/s);
  expect(page.length).toBeLessThan(100_000);
  expect(page).toContain("The cellar");
});

test("a form that is sent twice is taken once", async ({ app }) => {
  const page = await (await fetch(`${app.url}/intake`)).text();
  const mark = /<main.*?name="once" value="([^"]+)"/s.exec(page)?.[1] ?? "";
  expect(mark.length).toBeGreaterThan(20);
  const id = `twice-${Date.now()}`;
  const body = new URLSearchParams({ once: mark, title: id, received: "2026-11-20", note: "" });
  const send = () =>
    fetch(`${app.url}/intake`, { method: "POST", body, headers: { origin: app.url }, redirect: "manual" });
  const answers = await Promise.all([send(), send(), send()]);
  const places = new Set(answers.map((a) => a.headers.get("location")));
  expect(
    answers.every((a) => a.status === 302 || a.status === 303),
    `${answers.map((a) => a.status)}`,
  ).toBe(true);
  expect(places.size).toBe(1);
  expect(await (await fetch(`${app.url}/intake`)).text()).toContain(id);
  // Gone back, and another name written into the same form: that is another wish.
  body.set("title", `${id} second`);
  const second = await send();
  expect(second.status).toBe(302);
  expect(second.headers.get("location")).not.toBe([...places][0]);
});

test("a line on which nobody asks is kept longer than whoever holds its other end keeps theirs", async ({ app }) => {
  const agent = new http.Agent({ keepAlive: true });
  const kept = await new Promise((resolve, reject) => {
    http
      .get(`${app.url}/health`, { agent }, (answer) => {
        answer.resume().once("end", () => resolve(answer.headers["keep-alive"]));
      })
      .once("error", reject);
  });
  agent.destroy();
  expect(kept).toBe("timeout=65");
});
