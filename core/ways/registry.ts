import type { ImageKind } from "~/core/catalogue/image";
import { cardUpdateWay } from "./card-update";
import { cleanData } from "./clean-data";
import { cleanedStock } from "./cleaned-stock";
import { downloadMode } from "./download-mode";
import { genericImage } from "./generic-image";
import { loaderBoard } from "./loader-board";
import { locking } from "./locking";
import { makerScript } from "./maker-script";
import { officialUpdate } from "./official-update";
import type { Operation, Together } from "./operation";
import { port } from "./port";
import { recoveryPackages } from "./recovery-packages";
import { rescue } from "./rescue";
import { stockPackage } from "./stock-package";
import { unlocking } from "./unlocking";

/** Every way the house knows, one line each. All lists below, and those of other rooms, come from here. */
export const WAYS = [
  officialUpdate,
  unlocking,
  stockPackage,
  recoveryPackages,
  genericImage,
  downloadMode,
  loaderBoard,
  makerScript,
  cardUpdateWay,
  port,
  cleanData,
  cleanedStock,
  locking,
  rescue,
] as const;

export type OperationKind = (typeof WAYS)[number]["operations"][number]["kind"];

/** Every operation the planner knows. */
export const OPERATIONS: readonly Operation<OperationKind>[] = WAYS.flatMap(
  (way): readonly Operation<OperationKind>[] => way.operations,
);

export const OPERATION_KINDS = OPERATIONS.map((o) => o.kind);

const byKind = new Map<string, Operation<OperationKind>>(OPERATIONS.map((o) => [o.kind, o]));

/**
 * @throws RangeError for a kind that no way has
 * @example operationOf("install-rom").image // "rom"
 */
export function operationOf(kind: string): Operation<OperationKind> {
  const operation = byKind.get(kind);
  if (!operation) throw new RangeError(`There is no operation “${kind}”`);
  return operation;
}

const wayByKind = new Map<string, string>(
  WAYS.flatMap(({ id, operations }) => operations.map(({ kind }) => [kind, id])),
);

/**
 * The way an operation belongs to, by its id; its kind where no way knows it any more.
 *
 * @example wayNameOf("unlock") // "unlocking"
 */
export const wayNameOf = (kind: string): string => wayByKind.get(kind) ?? kind;

/**
 * The ways that somebody has to know to do all of these operations, each once.
 *
 * @example wayNamesOf([{ kind: "unlock" }, { kind: "unlock" }]) // ["unlocking"]
 */
export const wayNamesOf = (operations: readonly { readonly kind: string }[]): string[] => [
  ...new Set(operations.map(({ kind }) => wayNameOf(kind))),
];

/**
 * What an operation is, in words; its kind where no way knows it any more.
 *
 * @example operationWords("unlock") // "Unlock the bootloader"
 */
export const operationWords = (kind: string) => byKind.get(kind)?.says ?? kind;

const nextOf = (o: Operation<OperationKind>): readonly OperationKind[] =>
  o.next === "any"
    ? OPERATION_KINDS
    : [
        ...(o.next ?? []).map((kind) => operationOf(kind).kind),
        ...OPERATIONS.filter((other) => other.follows?.includes(o.kind)).map((other) => other.kind),
      ];

/** What may come next behind each operation. */
export const NEXT: ReadonlyMap<OperationKind, readonly OperationKind[]> = new Map(
  OPERATIONS.map((o) => [o.kind, nextOf(o)]),
);

/** Operations that take away a reason, by its code. */
export const PROVIDERS: ReadonlyMap<string, readonly OperationKind[]> = OPERATIONS.reduce((map, o) => {
  for (const code of o.settles ?? []) map.set(code, [...(map.get(code) ?? []), o.kind]);
  return map;
}, new Map<string, OperationKind[]>());

/** The operations that install a kind of image as the system that runs. */
export const INSTALLERS: ReadonlyMap<ImageKind, readonly OperationKind[]> = OPERATIONS.reduce((map, o) => {
  if (o.installs && o.image) map.set(o.image, [...(map.get(o.image) ?? []), o.kind]);
  return map;
}, new Map<ImageKind, OperationKind[]>());

/** Operations that write a maker's package. */
export const STOCK_WRITERS: readonly string[] = INSTALLERS.get("stock") ?? [];

/**
 * Operations that take a kind of image.
 *
 * @example takersOf("gsi").length > 0 // true
 */
export const takersOf = (kind: ImageKind) => OPERATIONS.filter((o) => o.image === kind);

export const TOGETHER: readonly Together[] = WAYS.flatMap((way): readonly Together[] =>
  "together" in way ? way.together : [],
);
