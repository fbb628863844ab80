import { z } from "zod";
import { Language, signOutSteps } from "./signOut";

export const LetterKind = z.enum(["ask", "remind", "ask-issuer"]);
export type LetterKind = z.infer<typeof LetterKind>;

export const LETTER_WORDS: Record<LetterKind, string> = {
  ask: "Ask to sign out",
  remind: "Remind",
  "ask-issuer": "Ask for a written release",
};

/** What a template may name, and what stands there in the letter. */
export const LETTER_VARIABLES = {
  donor: "Name of the donor",
  organisation: "Your organisation",
  sender: "Who writes",
  count: "Number of devices",
  devices: "Each device with the steps that fit it",
  tags: "The devices' tags, in one line",
  decide_on: "The day on which it is decided without an answer",
} as const;
export type LetterVariable = keyof typeof LETTER_VARIABLES;

export const LetterTemplate = z.strictObject({
  subject: z
    .string()
    .trim()
    .min(3, "Write a subject")
    .max(150)
    .refine((s) => !/[\r\n\0]/.test(s), "The subject is one line"),
  body: z.string().trim().min(20, "Write at least a sentence").max(8000),
});
export type LetterTemplate = z.infer<typeof LetterTemplate>;

const VARIABLE = /\{\{\s*([^{}]*?)\s*\}\}/g;

/**
 * Variables in a template that do not exist, as they are written.
 *
 * @example unknownVariables({ subject: "For {{donor}}", body: "{{nobody}}" }) // ["nobody"]
 */
export function unknownVariables(template: LetterTemplate): string[] {
  const named = [...`${template.subject}\n${template.body}`.matchAll(VARIABLE)].map((m) => m[1]);
  return [...new Set(named.filter((name) => !Object.hasOwn(LETTER_VARIABLES, name)))];
}

export interface LetterDevice {
  readonly tag: string;
  /** Name a donor knows it by. */
  readonly name: string;
  readonly api: number | null;
  readonly release: string | null;
  readonly held: boolean;
}

export interface LetterWish {
  readonly kind: LetterKind;
  readonly language: Language;
  readonly plain: boolean;
  readonly donor: string;
  readonly organisation: string;
  readonly sender: string;
  /** Day as 2026-12-15. */
  readonly decideOn: string;
  readonly devices: readonly LetterDevice[];
}

export interface Letter {
  readonly subject: string;
  readonly body: string;
}

/**
 * Fills a template. Devices that take the same steps stand together, so that nobody reads the steps twice.
 *
 * @example writeLetter({ subject: "Your {count} devices", … }, { donor: "Family Marlow", devices: [a, b], … }).subject // "Your 2 devices"
 */
export function writeLetter(template: LetterTemplate, wish: LetterWish): Letter {
  const values: Record<LetterVariable, string> = {
    donor: wish.donor,
    organisation: wish.organisation,
    sender: wish.sender,
    count: String(wish.devices.length),
    devices: wish.kind === "ask-issuer" ? deviceLines(wish) : devicesWithSteps(wish),
    tags: wish.devices.map((d) => d.tag).join(", "),
    decide_on: wish.decideOn,
  };
  const fill = (text: string) =>
    text.replace(VARIABLE, (whole, name: string) =>
      Object.hasOwn(values, name) ? values[name as LetterVariable] : whole,
    );
  return { subject: oneLine(fill(template.subject)), body: fill(template.body) };
}

/**
 * A header is one line: whatever a name brings along, it can't begin another.
 *
 * @example oneLine("a\r\nBcc: b") // "a Bcc: b"
 */
export const oneLine = (text: string): string =>
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is taken out.
  text.replace(/[\u0000-\u001f\u007f\u2028\u2029]+/g, " ").trim();

const deviceLine = (d: LetterDevice) => `${d.tag}: ${d.name}${d.release ? `, Android ${d.release}` : ""}`;
const deviceLines = (wish: LetterWish) => wish.devices.map((d) => `- ${deviceLine(d)}`).join("\n");

function devicesWithSteps(wish: LetterWish): string {
  const groups = new Map<string, LetterDevice[]>();
  for (const device of wish.devices) {
    const { language, plain } = wish;
    const steps = signOutSteps({ api: device.api, held: device.held, language, plain })
      .map((step, i) => `  ${i + 1}. ${step}`)
      .join("\n");
    groups.set(steps, [...(groups.get(steps) ?? []), device]);
  }
  return [...groups]
    .map(([steps, devices]) => `${devices.map((d) => `- ${deviceLine(d)}`).join("\n")}\n${steps}`)
    .join("\n\n");
}

/**
 * Name of a template: its kind, language, and "plain" for the version in plain language.
 *
 * @example templateId("ask", "en", true) // "ask.en.plain"
 */
export const templateId = (kind: LetterKind, language: Language, plain: boolean): string =>
  `${kind}.${language}${plain ? ".plain" : ""}`;

export const TEMPLATE_IDS: readonly string[] = LetterKind.options.flatMap((kind) =>
  Language.options.flatMap((language) => [templateId(kind, language, false), templateId(kind, language, true)]),
);
