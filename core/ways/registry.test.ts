import { ACTS } from "~/phone/hands";
import { REASON_RULES } from "./reasons";
import { NEXT, OPERATION_KINDS, OPERATIONS, operationOf, PROVIDERS, WAYS } from "./registry";

test("every way has operations, and every kind belongs to one way", () => {
  expect(WAYS.length).toBeGreaterThan(6);
  for (const way of WAYS) expect(way.operations.length).toBeGreaterThan(0);
  expect(new Set(OPERATION_KINDS).size).toBe(OPERATIONS.length);
});

test("what may follow is an operation that exists", () => {
  for (const operation of OPERATIONS) {
    for (const kind of NEXT.get(operation.kind) ?? []) expect(operationOf(kind).kind).toBe(kind);
    for (const kind of operation.follows ?? []) expect(operationOf(kind).kind).toBe(kind);
  }
  expect(() => operationOf("paint-it")).toThrow(RangeError);
});

test("a reason that is taken away is one of the reasons", () => {
  expect(PROVIDERS.size).toBeGreaterThan(8);
  for (const code of PROVIDERS.keys()) expect(Object.keys(REASON_RULES)).toContain(code);
});

test("the phone has fingers for everything that ways do by hand", () => {
  const codes = WAYS.flatMap((way): readonly string[] => way.hands);
  expect(codes.length).toBeGreaterThan(12);
  for (const code of codes) expect(ACTS.map(([name]) => name)).toContain(code);
});
