import type { Language } from "~/core/clearance/signOut";
import type { Cause } from "~/core/schedule/odds";

/** What stands in the letter to a group. */
export type GroupLetter = {
  readonly group: string;
  readonly organisation: string;
  readonly sender: string;
  readonly wanted: number;
  readonly count: number;
  /** The days as they are read. */
  readonly day: string;
  readonly sure: string | null;
  readonly chance: number;
  /** The chance knows who comes when, and how many places there are: the evenings were played through for it. */
  readonly played: boolean;
  /** What they will get, by model and Android release, with how many of each. */
  readonly kinds: readonly { readonly name: string; readonly count: number }[];
  /** Devices that still wait for somebody else's word. */
  readonly uncleared: number;
  /** What holds it up most; null where nothing in particular does. */
  readonly holdsUp: Cause | null;
};

/** Of a hundred, as people read a chance: never none, and never all. */
const ofHundred = (chance: number): number | "most" | "few" =>
  chance >= 0.995 ? "most" : chance < 0.005 ? "few" : Math.round(100 * chance);

/** "in 85 of 100 such cases": a chance as people read it, never rounded up to certainty. */
export function chanceInWords(chance: number, language: Language = "en"): string {
  const of = ofHundred(chance);
  if (language === "de")
    return of === "most"
      ? "in mehr als 99 von 100 solchen Fällen"
      : of === "few"
        ? "in weniger als 1 von 100 solchen Fällen"
        : `in ${of} von 100 solchen Fällen`;
  return of === "most"
    ? "in more than 99 of 100 such cases"
    : of === "few"
      ? "in fewer than 1 of 100 such cases"
      : `in ${of} of 100 such cases`;
}

type Letter = { readonly subject: string; readonly body: string };

/** One paragraph each; null where there is nothing to say. */
type Paragraphs = readonly (string | null)[];

/**
 * What you will get, by when, how sure: the letter to a group, as plain text.
 *
 * @example groupLetter({ wanted: 10, count: 9, day: "14 Dec", … }, "en").subject // "9 of the 10 devices you asked for, by 14 Dec"
 */
export function groupLetter(letter: GroupLetter, language: Language): Letter {
  const { subject, paragraphs } = (language === "de" ? inGerman : inEnglish)(letter);
  return { subject, body: paragraphs.filter((part) => part !== null).join("\n\n") };
}

const listed = ({ kinds }: GroupLetter) => kinds.map(({ name, count }) => `- ${count} × ${name}`).join("\n");

const CAUSE_EN: Readonly<Record<Cause, string>> = {
  clearance: "former owners who have not answered",
  success: "devices with which the first try does not go well",
  durations: "work that takes longer than usual",
  "no-shows": "volunteers who can't come after all",
};

function inEnglish(letter: GroupLetter): { readonly subject: string; readonly paragraphs: Paragraphs } {
  const { group, organisation, sender, wanted, count, day, sure, chance, played, kinds, uncleared, holdsUp } = letter;
  const known = played ? "the devices, their donors, our benches and our volunteers" : "the devices and their donors";
  const devices = (n: number) => (n === 1 ? "1 device" : `${n} devices`);
  const all = wanted === 1 ? "it" : `all ${wanted}`;
  const nine = sure && sure !== day ? ` Nine times in ten it is done by ${sure}.` : "";
  return {
    subject: `${count} of the ${devices(wanted)} you asked for, by ${day}`,
    paragraphs: [
      `To ${group},`,
      `you asked us for ${devices(wanted)} by ${day}. This is what we can say today.`,
      `We plan to hand over ${count === wanted ? all : `${count} of them`} by ${day}. By what we know of ${known}, this holds ${chanceInWords(chance, "en")}.${nine}`,
      kinds.length > 0 ? `What is meant for you at the moment:\n${listed(letter)}` : null,
      uncleared > 0
        ? `${uncleared === 1 ? "One of them still waits" : `${uncleared} of them still wait`} for a former owner to sign out. We never work on a device before that, so ${uncleared === 1 ? "it" : "these"} can't be promised for certain.`
        : null,
      holdsUp ? `What could hold it up most: ${CAUSE_EN[holdsUp]}.` : null,
      "If anything changes we write to you. Please plan nothing that can't wait a week before you have them in hand.",
      `${sender}\n${organisation}`,
    ],
  };
}

const CAUSE_DE: Readonly<Record<Cause, string>> = {
  clearance: "frühere Besitzer, die noch nicht geantwortet haben",
  success: "Geräte, bei denen der erste Versuch nicht gelingt",
  durations: "Arbeit, die länger dauert als sonst",
  "no-shows": "Freiwillige, die doch nicht kommen können",
};

function inGerman(letter: GroupLetter): { readonly subject: string; readonly paragraphs: Paragraphs } {
  const { group, organisation, sender, wanted, count, day, sure, chance, played, kinds, uncleared, holdsUp } = letter;
  const known = played
    ? "den Geräten, ihren Spendern, unseren Werkbänken und unseren Freiwilligen"
    : "den Geräten und ihren Spendern";
  const all = wanted === 1 ? "es" : `alle ${wanted}`;
  const nine = sure && sure !== day ? ` In neun von zehn Fällen ist es bis zum ${sure} geschafft.` : "";
  return {
    subject:
      wanted === 1
        ? `Das Gerät, um das Sie gebeten haben, bis zum ${day}`
        : `${count} der ${wanted} Geräte, um die Sie gebeten haben, bis zum ${day}`,
    paragraphs: [
      `Guten Tag ${group},`,
      `Sie haben uns um ${wanted === 1 ? "1 Gerät" : `${wanted} Geräte`} bis zum ${day} gebeten. Das können wir heute dazu sagen.`,
      `Wir planen, ${count === wanted ? all : `${count} davon`} bis zum ${day} zu übergeben. Nach dem, was wir von ${known} wissen, gelingt das ${chanceInWords(chance, "de")}.${nine}`,
      kinds.length > 0 ? `Zur Zeit ist für Sie vorgesehen:\n${listed(letter)}` : null,
      uncleared > 0
        ? `Bei ${uncleared === 1 ? "einem davon" : `${uncleared} davon`} muss sich noch ein früherer Besitzer abmelden. Vorher arbeiten wir nie an einem Gerät, darum ${uncleared === 1 ? "kann dieses" : "können diese"} nicht fest zugesagt werden.`
        : null,
      holdsUp ? `Was am ehesten dazwischenkommt: ${CAUSE_DE[holdsUp]}.` : null,
      "Wenn sich etwas ändert, schreiben wir Ihnen. Bitte planen Sie nichts, was nicht eine Woche warten kann, bevor Sie die Geräte in der Hand haben.",
      `${sender}\n${organisation}`,
    ],
  };
}
