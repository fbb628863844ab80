import { type Knock, refusalAtDoor } from "./door";
import { isAlone, ownNames, readSettings } from "./settings";

const own = new Set(["127.0.0.1", "localhost", "::1", "lane.workshop.example"]);
const knock = (over: Partial<Knock> & { host?: string; origin?: string; referer?: string }) => {
  const { host = "127.0.0.1:4310", origin, referer, ...rest } = over;
  return (
    refusalAtDoor({ method: "GET", url: "/match", headers: { host, origin, referer }, ...rest }, own)?.status ?? 200
  );
};

describe("who is let in", () => {
  // Published: RFC 9110, 7.2 (Host) and 15.5.20 (421).
  test.each([
    ["127.0.0.1:4310", 200],
    ["LOCALHOST:4310", 200],
    ["[::1]:4310", 200],
    ["lane.workshop.example", 200],
    ["rebound.example:4310", 421],
    ["127.0.0.1.rebound.example", 421],
    ["", 421],
    ["a b", 421],
    ["localhost:4310:1", 421],
  ])("Host %j: %d", (host, status) => expect(knock({ host })).toBe(status));

  test.each(["PUT", "DELETE", "PATCH", "OPTIONS", "TRACE", "PROPFIND"])("%s is no method here", (method) =>
    expect(knock({ method })).toBe(405),
  );

  test.each([
    ["/devices/%E0%A4%A", 400],
    ["/devices/%00", 400],
    ["/devices/a%0d%0ab", 400],
    ["//evil", 200],
    ["*", 400],
    ["http://other/", 400],
    [`/${"a".repeat(5000)}`, 414],
    ["/devices/%C5%BE?q=a+b", 200],
  ])("the address %j: %d", (url, status) => expect(knock({ url })).toBe(status));

  // Published: the Fetch standard ("null" for opaque origins), OWASP CSRF Prevention Cheat Sheet.
  test.each([
    [{}, 403],
    [{ origin: "http://127.0.0.1:4310" }, 200],
    [{ origin: "null" }, 403],
    [{ origin: "http://127.0.0.1:9999" }, 403],
    [{ origin: "http://evil.example" }, 403],
    [{ origin: "http://127.0.0.1:4310.evil.example" }, 403],
    [{ origin: "http://evil.example", referer: "http://127.0.0.1:4310/match" }, 403],
    [{ referer: "http://127.0.0.1:4310/match?x" }, 200],
    [{ referer: "http://evil.example/?http://127.0.0.1:4310/" }, 403],
    [{ referer: "no address" }, 403],
  ])("a change from %j: %d", (from, status) => expect(knock({ method: "POST", ...from })).toBe(status));

  test("a bench script reports without naming a page, and nothing else does", () => {
    for (const url of ["/devices/TH-001/report", "/devices/TH-001/packages-seen"])
      expect(knock({ method: "POST", url })).toBe(200);
    for (const url of ["/devices/TH-001", "/devices/TH-001/report/x", "/policy?/devices/x/report"])
      expect(knock({ method: "POST", url })).toBe(403);
  });
});

describe("settings of the server", () => {
  const read = (env: Record<string, string>) => {
    const settings = readSettings(env);
    if (Array.isArray(settings)) throw new Error(settings.join());
    return settings;
  };

  test("without any it serves this computer alone", () => {
    expect(read({})).toMatchObject({ HOST: "127.0.0.1", PORT: 4310 });
    expect(isAlone(read({}))).toBe(true);
    expect(isAlone(read({ HOST: "::1" }))).toBe(true);
  });

  test("another address, a name or a proxy: others reach it", () => {
    for (const env of [
      { HOST: "0.0.0.0" },
      { HOST: "192.0.2.7" },
      { UPSHIFT_HOSTS: "lane.example" },
      { UPSHIFT_PROXIES: "10.0.0.0/8" },
    ])
      expect(isAlone(read(env as unknown as Record<string, string>))).toBe(false);
  });

  test("it answers under the names it is given, and under its addresses", () => {
    expect(ownNames(read({ HOST: "192.0.2.7", UPSHIFT_HOSTS: "Lane.Example, b.example" }))).toEqual(
      new Set(["192.0.2.7", "lane.example", "b.example"]),
    );
    expect(ownNames(read({ HOST: "0.0.0.0" }))).toContain("127.0.0.1");
  });

  test("what is wrong is said by name", () => {
    expect(readSettings({ PORT: "70000" })).toEqual([expect.stringContaining("PORT")]);
    expect(readSettings({ UPSHIFT_TLS_KEY: "key.pem" })).toEqual([expect.stringContaining("go together")]);
  });
});
