import { addDays, addMinutes } from "date-fns";
import { emptyCopy } from "~/demo/demoCopy";
import { addAccount, changeAccount, findAccount, hasAccounts } from "~/store/accounts";
import type { Store } from "~/store/database";
import { addInvitation, listSessions, useInvitation } from "~/store/sessions";
import { digestOf, guestOf, isOpenHouse, newSecret } from "./guest";
import { hashPassword, isPassword, passwordProblem } from "./password";
import { signIn } from "./signIn";

const T = new Date("2026-11-27T18:00:00Z");
const hand = { by: "test", at: T.toISOString() };
const words = "brass kettle winter";

async function house(role: "coordinator" | "bench" = "coordinator") {
  const store = emptyCopy();
  addAccount(store, { name: "Oda Brandt", role, password: await hashPassword(words) }, hand);
  return store;
}
const enter = (store: Store, password: string, now = T, name = "Oda Brandt", address = "192.0.2.1") =>
  signIn(store, { name, password, address, agent: "test" }, now);
const asked = (secret: string) => new Request("http://lane/", { headers: { cookie: `lane_session=${secret}` } });
/** Signs in, or fails the test. */
async function secretOf(store: Store, now = T) {
  const signed = await enter(store, words, now);
  if (!signed.ok) throw new Error(signed.says);
  return signed.secret;
}

describe("passwords", () => {
  // Published: RFC 9106 (Argon2id); the PHC string format names its parameters. OWASP: m=19456, t=2, p=1.
  test("are kept as Argon2id with the published parameters, salted, and never as they are", async () => {
    const [a, b] = await Promise.all([hashPassword(words), hashPassword(words)]);
    expect(a).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(a).not.toBe(b);
    expect(a).not.toContain(words);
    expect(await isPassword(a, words)).toBe(true);
    expect(await isPassword(a, `${words} `)).toBe(false);
    expect(await isPassword(null, words)).toBe(false);
  });

  test.each([
    ["short", false],
    ["aaaaaaaaaaaa", false],
    ["Oda Brandt 2026", false],
    ["x".repeat(300), false],
    [words, true],
  ])("%j is taken: %s", (password, taken) => expect(passwordProblem(password, "Oda Brandt") === null).toBe(taken));
});

test("an open house asks nobody; with the first account everybody signs in", async () => {
  const store = emptyCopy();
  expect(isOpenHouse(store)).toBe(true);
  expect(guestOf(store, new Request("http://lane/"), T)).toMatchObject({ role: "coordinator", session: null });
  addAccount(store, { name: "Oda", role: "coordinator", password: await hashPassword(words) }, hand);
  expect(hasAccounts(store)).toBe(true);
  expect(guestOf(store, new Request("http://lane/"), T)).toBeNull();
});

test("bound to another address, an open house is none", () => {
  const store = emptyCopy();
  process.env.UPSHIFT_ALONE = "";
  try {
    expect(isOpenHouse(store)).toBe(false);
    expect(guestOf(store, new Request("http://lane/"), T)).toBeNull();
  } finally {
    delete process.env.UPSHIFT_ALONE;
  }
});

describe("sessions", () => {
  test("what the browser holds lies nowhere in the database, and opens until it runs out", async () => {
    const store = await house("bench");
    const secret = await secretOf(store);
    expect(JSON.stringify(store.prepare("SELECT * FROM session").all())).not.toContain(secret);
    expect(guestOf(store, asked(secret), T)).toMatchObject({
      name: "Oda Brandt",
      role: "bench",
      seesPersonalData: false,
    });
    expect(guestOf(store, asked(secret), addDays(T, 15))).toBeNull();
    expect(guestOf(store, asked(newSecret()), T)).toBeNull();
  });

  test("a new role, a new password and a closed account hold at once", async () => {
    for (const wish of [
      { what: "role", role: "desk" },
      { what: "password", password: "x" },
      { what: "close" },
    ] as const) {
      const store = await house("bench");
      const secret = await secretOf(store);
      expect(changeAccount(store, findAccount(store, "Oda Brandt")?.id ?? 0, wish, hand)).toBeNull();
      expect(guestOf(store, asked(secret), T)).toBeNull();
    }
  });

  test("the last coordinator stays", async () => {
    const store = await house();
    const id = findAccount(store, "oda brandt")?.id ?? 0;
    expect(changeAccount(store, id, { what: "close" }, hand)).toMatch(/last coordinator/);
    expect(changeAccount(store, id, { what: "role", role: "bench" }, hand)).toMatch(/last coordinator/);
  });
});

describe("wrong passwords", () => {
  test("five hold a name up for a quarter of an hour, the right one too, and no longer", async () => {
    const store = await house();
    for (let n = 0; n < 5; n++) expect(await enter(store, "wrong password")).toMatchObject({ ok: false, status: 401 });
    expect(await enter(store, words)).toMatchObject({ ok: false, status: 429 });
    expect(await enter(store, words, addMinutes(T, 16))).toMatchObject({ ok: true });
    expect(await enter(store, "wrong password", addMinutes(T, 17))).toMatchObject({ status: 401 });
  });

  test("many at once count one by one", async () => {
    const store = await house();
    const answers = await Promise.all(Array.from({ length: 12 }, () => enter(store, "wrong password")));
    expect(answers.filter((a) => !a.ok && a.status === 401)).toHaveLength(5);
  });

  test("a name that is not there gets the same answer", async () => {
    const store = await house();
    expect(await enter(store, words, T, "Nobody Here")).toEqual(await enter(store, "wrong password"));
    expect(listSessions(store, T.toISOString())).toEqual([]);
  });

  test("an address that tries many names is held up", async () => {
    const store = await house();
    for (let n = 0; n < 30; n++) await enter(store, "x", T, `Name ${n}`, "192.0.2.9");
    expect(await enter(store, words, T, "Oda Brandt", "192.0.2.9")).toMatchObject({ status: 429 });
    expect(await enter(store, words, T, "Oda Brandt", "192.0.2.1")).toMatchObject({ ok: true });
  }, 20_000);
});

test("a code lets one phone in, once, until the evening ends", () => {
  const store = emptyCopy();
  const code = digestOf(newSecret());
  const until = addMinutes(T, 300).toISOString();
  addInvitation(store, { digest: code, name: "Mira", role: "bench", until, expires: addMinutes(T, 15).toISOString() });
  const [one, two] = [newSecret(), newSecret()];
  expect(useInvitation(store, code, digestOf(one), "phone", addMinutes(T, 16).toISOString())).toBe(false);
  expect(useInvitation(store, code, digestOf(one), "phone", T.toISOString())).toBe(true);
  expect(useInvitation(store, code, digestOf(two), "phone", T.toISOString())).toBe(false);
  store.exec(`INSERT INTO account (name, role, password, at) VALUES ('X', 'coordinator', 'x', '${hand.at}')`);
  expect(guestOf(store, asked(one), T)).toMatchObject({ name: "Mira", role: "bench", account: null });
  expect(guestOf(store, asked(two), T)).toBeNull();
  expect(guestOf(store, asked(one), addMinutes(T, 301))).toBeNull();
});
