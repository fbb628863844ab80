import { emptyCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { readButton, readForm, readFormWithin, readText, textFields } from "./form";
import { isInside } from "./leadOn";
import { claimForm, settleForm } from "./once";
import { needRoom } from "./room";

const TYPE = "application/x-www-form-urlencoded";
const post = (body: BodyInit, type: string | null = TYPE) =>
  new Request("http://lane/x", {
    method: "POST",
    body,
    headers: type ? { "content-type": type } : {},
    duplex: "half",
  } as RequestInit);
/** The status it is refused with. */
const refusal = async (work: Promise<unknown>) =>
  work.then(
    () => 200,
    (thrown: unknown) => (thrown instanceof Response ? thrown.status : thrown),
  );

test("a form is read, with its files left as they are", async () => {
  expect(textFields(await readForm(post("a=1&b=%C5%BE&a=2")))).toEqual({ a: "2", b: "ž" });
  const form = new FormData();
  form.set("file", new File(["x"], "x.csv"));
  form.set("note", "n");
  expect(textFields(await readForm(new Request("http://lane/x", { method: "POST", body: form })))).toEqual({
    note: "n",
  });
});

test.each([
  ["sent", "", TYPE, 200],
  ["with its name", "act=cancel", TYPE, 200],
  ["as a form that breaks off", "--x\r\nContent-Disp", "multipart/form-data; boundary=x", 400],
  ["with far too much", `a=${"x".repeat(1000)}`, TYPE, 413],
  ["as JSON", "{}", "application/json", 415],
])("a button %s", async (_what, body, type, status) => {
  expect(await refusal(readButton(post(body, type)))).toBe(status);
});

test("the same form is the same, whatever its parts are separated by", async () => {
  process.env.UPSHIFT_DB = ":memory:";
  const send = (note: string) => {
    const form = new FormData();
    form.set("once", "mark-of-a-form-1");
    form.set("note", note);
    form.set("file", new File(["x"], "x.csv"));
    return readForm(new Request("http://lane/x", { method: "POST", body: form }));
  };
  // No request is answered here: what was claimed is settled by hand.
  const { db } = await import("./context");
  await send("one");
  db().exec("UPDATE form_seen SET ended = 1, leads_to = '/there'");
  expect(await refusal(send("one"))).toBe(303);
  expect(await refusal(send("another"))).toBe(200);
  expect(db().prepare("SELECT count(*) FROM form_seen").pluck().get()).toBe(2);
});

test.each([
  ["JSON", '{"a":1}', "application/json", 415],
  ["XML", "<a/>", "text/xml", 415],
  ["no type", new Uint8Array([1]), null, 415],
  ["multipart without a boundary", "x", "multipart/form-data", 415],
  ["multipart that breaks off", "--x\r\nContent-Disp", "multipart/form-data; boundary=x", 400],
  ["the prototype as a field", "__proto__=1", TYPE, 400],
  ["the prototype as a part of one", "a.constructor.b=1", TYPE, 400],
  ["an index that is no row", "files.99999999.name=x", TYPE, 400],
  ["an index in brackets", "images[123456]=x", TYPE, 400],
  ["a long name", `${"n".repeat(300)}=1`, TYPE, 400],
  ["too many fields", "a=&".repeat(20_001), TYPE, 413],
  ["a donor of a megabyte", `donor=${"x".repeat(1_000_000)}`, TYPE, 413],
  ["a title that is a book", `title=${"x".repeat(501)}`, TYPE, 413],
])("%s is refused", async (_what, body, type, status) => {
  expect(await refusal(readForm(post(body, type)))).toBe(status);
});

test("rows of a list go by their line in the file", async () => {
  expect(textFields(await readForm(post("cell.45000.12=x&choice.45000=leave")))).toMatchObject({
    "cell.45000.12": "x",
  });
});

test("a body without an end is cut off while it is read", async () => {
  let sent = 0;
  const endless = new ReadableStream({
    pull(controller) {
      sent += 1_000_000;
      controller.enqueue(new Uint8Array(1_000_000));
    },
  });
  expect(await readFormWithin(post(endless), { most: 1000 })).toBeNull();
  expect(sent).toBeLessThan(110_000_000);
  expect(await readText(post("abc"), 2)).toBeNull();
  expect(await readText(post("abc"), 3)).toBe("abc");
});

describe("a form is taken once", () => {
  const claim = (store: Store) => claimForm(store, "mark-1234", post(""));

  test("the second leads where the first led", async () => {
    const store = emptyCopy();
    await claim(store);
    settleForm(store, "mark-1234", 302, "/devices/TH-1");
    const second = await claim(store).catch((r: Response) => r);
    expect(second).toMatchObject({ status: 303 });
    expect((second as Response).headers.get("location")).toBe("/devices/TH-1");
  });

  test("a full disk is told before anything is done; with room again the same form is taken", async () => {
    const store = emptyCopy();
    const pages = Number(store.pragma("page_count", { simple: true }));
    store.pragma(`max_page_count = ${pages}`);
    // What room is left in the pages that are there is filled up.
    const filled = async () => {
      for (let n = 0; n < 10_000; n++) {
        const status = await refusal(claimForm(store, `mark-${n}-${"x".repeat(60)}`, post("")));
        if (status !== 200) return status;
      }
    };
    expect(await filled()).toBe(507);
    store.pragma(`max_page_count = ${pages + 100}`);
    expect(await refusal(claim(store))).toBe(200);
  });

  test("a disk with no room for what a form writes is told before anything is begun", async () => {
    const asked = async (sent: number, free?: number) => needRoom(sent, free);
    expect(await refusal(asked(100, 7_000_000))).toBe(507);
    expect(await refusal(asked(100, 9_000_000))).toBe(200);
    expect(await refusal(asked(2_000_000, 9_000_000))).toBe(507);
    // A place that can't be asked is not in the way.
    const { UPSHIFT_DB } = process.env;
    process.env.UPSHIFT_DB = "/nowhere/at/all/lane.db";
    expect(await refusal(asked(100))).toBe(200);
    process.env.UPSHIFT_DB = UPSHIFT_DB;
  });

  test("two at once: the second waits for the first", async () => {
    const store = emptyCopy();
    await claim(store);
    setTimeout(() => settleForm(store, "mark-1234", 200, null), 120);
    expect(await refusal(claim(store))).toBe(303);
  });

  test("one that was refused can be mended and sent again", async () => {
    const store = emptyCopy();
    await claim(store);
    settleForm(store, "mark-1234", 400, null);
    expect(await refusal(claim(store))).toBe(200);
  });
});

// Published: OWASP Unvalidated Redirects and Forwards Cheat Sheet; the URL standard's treatment of "\" and of controls.
test.each([
  ["/match?x=1#a", true],
  ["//evil.example", false],
  ["/\\evil.example", false],
  ["/\t/evil.example", false],
  ["https://evil.example", false],
  ["evil", false],
  ["/a\\b", false],
])("leading on to %j stays inside: %s", (to, inside) => expect(isInside(to)).toBe(inside));
