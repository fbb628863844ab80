import { z } from "zod";

export const Language = z.enum(["en", "de"]);
export type Language = z.infer<typeof Language>;

export const LANGUAGE_WORDS: Record<Language, string> = { en: "English", de: "Deutsch" };

/** What the steps depend on. */
export interface SignOutWish {
  /** API level that runs; null when not known: then both usual paths are named. */
  readonly api: number | null;
  /** The donor still has the device; otherwise it lies with us. */
  readonly held: boolean;
  readonly language: Language;
  /** Short sentences, one thing each. */
  readonly plain: boolean;
}

type Words = Record<Language, string>;

/**
 * Where accounts and the reset stand in the settings.
 *
 * Names of the platform's own settings app, from memory; makers rename them, so the letter says "or similar".
 */
function paths(api: number | null): { readonly accounts: Words; readonly reset: Words } {
  const accounts =
    api !== null && api >= 31
      ? { en: "Passwords & accounts", de: "Passwörter & Konten" }
      : api !== null && api >= 26 && api <= 27
        ? { en: "Users & accounts", de: "Nutzer & Konten" }
        : { en: "Accounts", de: "Konten" };
  const old = { en: "Backup & reset > Factory data reset", de: "Sichern & zurücksetzen > Auf Werkszustand zurück" };
  const young = {
    en: "System > Reset options > Erase all data",
    de: "System > Optionen zum Zurücksetzen > Alle Daten löschen",
  };
  if (api === null)
    return { accounts, reset: { en: `${young.en} (older: ${old.en})`, de: `${young.de} (älter: ${old.de})` } };
  return { accounts, reset: api >= 26 ? young : old };
}

/**
 * The steps by which an owner signs out and empties a device, in the order that loses nothing: codes first, the reset last.
 *
 * A device that lies with us can be signed out by its owner only in person or after it was sent back: we never ask for a
 * password, and there is no other step.
 *
 * @source the order is common practice, no source
 */
export function signOutSteps({ api, held, language, plain }: SignOutWish): string[] {
  const { accounts, reset } = paths(api);
  const at = (path: Words) => `${language === "de" ? "Einstellungen" : "Settings"} > ${path[language]}`;
  const codes = {
    full: {
      en: "Move your two-factor codes to your new device first: in every service that sends or makes codes on the old one, change the device.",
      de: "Ziehen Sie zuerst Ihre Codes für die Anmeldung in zwei Schritten auf Ihr neues Gerät um: bei jedem Dienst, der sie auf dem alten Gerät erzeugt oder dorthin sendet.",
    },
    plain: {
      en: "Do you get login codes on the old device? Move them to your new device first.",
      de: "Bekommen Sie Anmelde-Codes auf das alte Gerät? Richten Sie die Codes zuerst auf dem neuen Gerät ein.",
    },
  };
  if (!held) {
    const visit = {
      full: {
        en: "The device lies with us. Only you can take your account off it, and only on the device itself: come to our desk, it takes about ten minutes. If you can't come, tell us and we send the device back to you for it.",
        de: "Das Gerät liegt bei uns. Nur Sie können Ihr Konto davon entfernen, und nur am Gerät selbst: Kommen Sie an unseren Tisch, es dauert etwa zehn Minuten. Wenn Sie nicht kommen können, sagen Sie es uns; dann schicken wir Ihnen das Gerät dafür zurück.",
      },
      plain: {
        en: "We have the device. Please come to our desk and sign out. It takes ten minutes. You can't come? Tell us. We send the device to you.",
        de: "Wir haben das Gerät. Bitte kommen Sie zu uns und melden Sie sich ab. Das dauert zehn Minuten. Sie können nicht kommen? Sagen Sie es uns. Wir schicken Ihnen das Gerät.",
      },
    };
    return [codes, visit].map((step) => step[plain ? "plain" : "full"][language]);
  }
  const rest: readonly { full: Words; plain: Words }[] = [
    {
      full: {
        en: `Let it sync once more, so that pictures, contacts and notes are kept: ${at(accounts)}.`,
        de: `Lassen Sie es noch einmal synchronisieren, damit Bilder, Kontakte und Notizen erhalten bleiben: ${at(accounts)}.`,
      },
      plain: { en: "Save your pictures and contacts.", de: "Sichern Sie Ihre Bilder und Kontakte." },
    },
    {
      full: {
        en: "Remove the screen lock: Settings > Security > Screen lock > None.",
        de: "Entfernen Sie die Displaysperre: Einstellungen > Sicherheit > Displaysperre > Keine.",
      },
      plain: { en: "Take off the screen lock.", de: "Schalten Sie die Displaysperre aus." },
    },
    {
      full: {
        en: `Remove every account: ${at(accounts)}, open each one and choose to remove it.`,
        de: `Entfernen Sie jedes Konto: ${at(accounts)}, jedes öffnen und entfernen.`,
      },
      plain: {
        en: `Take off every account. You find them here: ${at(accounts)}.`,
        de: `Entfernen Sie jedes Konto. Sie finden die Konten hier: ${at(accounts)}.`,
      },
    },
    {
      full: { en: "Restart the device once.", de: "Starten Sie das Gerät einmal neu." },
      plain: { en: "Switch it off and on again.", de: "Schalten Sie das Gerät aus und wieder ein." },
    },
    {
      full: {
        en: `Reset it from the settings, not with keys: ${at(reset)}.`,
        de: `Setzen Sie es aus den Einstellungen zurück, nicht mit Tasten: ${at(reset)}.`,
      },
      plain: { en: `Now erase it here: ${at(reset)}.`, de: `Löschen Sie es jetzt hier: ${at(reset)}.` },
    },
  ];
  return [codes, ...rest].map((step) => step[plain ? "plain" : "full"][language]);
}
