import type { LetterTemplate } from "./letter";

const noPassword = {
  en: "Please never send us a password or a code: we do not need them and do not want them.",
  de: "Bitte senden Sie uns nie ein Passwort oder einen Code: Wir brauchen sie nicht und wollen sie nicht.",
};

/** The letters as they ship. Each can be edited in the house; the one that ships can always be brought back. */
export const SHIPPED_TEMPLATES: Readonly<Record<string, LetterTemplate>> = {
  "ask.en": {
    subject: "Your donated device: please sign out ({{tags}})",
    body: `Dear {{donor}},

thank you for giving your device to {{organisation}}. Before anybody else can use it, your account has to come off it. Only you can do that, and until then we do not touch it.

{{devices}}

Menus may be called a little differently on your device. ${noPassword.en}

If we hear nothing by {{decide_on}}, the device goes to parts or recycling.

With thanks
{{sender}}, {{organisation}}`,
  },
  "ask.en.plain": {
    subject: "Please sign out of your old device ({{tags}})",
    body: `Hello {{donor}},

thank you for your device. Your account is still on it. Nobody else can use it like that. Please sign out:

{{devices}}

${noPassword.en}

Please answer by {{decide_on}}. After that day the device is recycled.

{{sender}}, {{organisation}}`,
  },
  "ask.de": {
    subject: "Ihr gespendetes Gerät: bitte melden Sie sich ab ({{tags}})",
    body: `Guten Tag {{donor}},

danke, dass Sie Ihr Gerät an {{organisation}} gegeben haben. Bevor jemand anderes es benutzen kann, muss Ihr Konto davon entfernt werden. Das können nur Sie, und bis dahin rühren wir es nicht an.

{{devices}}

Auf Ihrem Gerät können die Menüs etwas anders heißen. ${noPassword.de}

Wenn wir bis {{decide_on}} nichts hören, geht das Gerät in die Teile oder ins Recycling.

Mit herzlichem Dank
{{sender}}, {{organisation}}`,
  },
  "ask.de.plain": {
    subject: "Bitte melden Sie sich von Ihrem alten Gerät ab ({{tags}})",
    body: `Guten Tag {{donor}},

danke für Ihr Gerät. Ihr Konto ist noch auf dem Gerät. So kann es niemand benutzen. Bitte melden Sie sich ab:

{{devices}}

${noPassword.de}

Bitte antworten Sie bis {{decide_on}}. Danach wird das Gerät recycelt.

{{sender}}, {{organisation}}`,
  },
  "remind.en": {
    subject: "A reminder: please sign out of your donated device ({{tags}})",
    body: `Dear {{donor}},

a while ago we asked you to sign out of {{count}} of your devices. It has not happened yet, as far as we can see. Here is once more what to do:

{{devices}}

${noPassword.en} If we hear nothing by {{decide_on}}, it goes to parts or recycling.

With thanks
{{sender}}, {{organisation}}`,
  },
  "remind.en.plain": {
    subject: "Reminder: please sign out ({{tags}})",
    body: `Hello {{donor}},

your account is still on your old device. Please sign out:

{{devices}}

${noPassword.en} Please answer by {{decide_on}}.

{{sender}}, {{organisation}}`,
  },
  "remind.de": {
    subject: "Erinnerung: bitte melden Sie sich von Ihrem gespendeten Gerät ab ({{tags}})",
    body: `Guten Tag {{donor}},

vor einiger Zeit haben wir Sie gebeten, sich abzumelden (Geräte: {{count}}). Soweit wir sehen, ist das noch nicht geschehen. Hier noch einmal die Schritte:

{{devices}}

${noPassword.de} Wenn wir bis {{decide_on}} nichts hören, geht das Gerät in die Teile oder ins Recycling.

Mit herzlichem Dank
{{sender}}, {{organisation}}`,
  },
  "remind.de.plain": {
    subject: "Erinnerung: bitte melden Sie sich ab ({{tags}})",
    body: `Guten Tag {{donor}},

Ihr Konto ist noch auf dem alten Gerät. Bitte melden Sie sich ab:

{{devices}}

${noPassword.de} Bitte antworten Sie bis {{decide_on}}.

{{sender}}, {{organisation}}`,
  },
  ...issuer(),
};

/** One wording serves for both: offices read the long one. */
function issuer(): Record<string, LetterTemplate> {
  const en: LetterTemplate = {
    subject: "Written release of donated devices ({{tags}})",
    body: `Dear {{donor}},

these devices were given to {{organisation}} and are still bound to your management or your network:

{{devices}}

Please release them on your side and confirm the release in writing, with the tags above. Until then we do nothing with them. Without an answer by {{decide_on}} they are returned to you or recycled, as you wish.

With thanks
{{sender}}, {{organisation}}`,
  };
  const de: LetterTemplate = {
    subject: "Schriftliche Freigabe gespendeter Geräte ({{tags}})",
    body: `Guten Tag {{donor}},

diese Geräte wurden an {{organisation}} gegeben und sind noch an Ihre Verwaltung oder Ihr Netz gebunden:

{{devices}}

Bitte geben Sie sie auf Ihrer Seite frei und bestätigen Sie die Freigabe schriftlich, mit den Nummern oben. Bis dahin tun wir nichts damit. Ohne Antwort bis {{decide_on}} gehen sie an Sie zurück oder ins Recycling, wie Sie es wünschen.

Mit herzlichem Dank
{{sender}}, {{organisation}}`,
  };
  return { "ask-issuer.en": en, "ask-issuer.en.plain": en, "ask-issuer.de": de, "ask-issuer.de.plain": de };
}
