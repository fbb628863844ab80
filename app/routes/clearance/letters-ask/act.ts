import { askGroups, sendLetters } from "~/app/server/clearance/letters";
import { now } from "~/app/server/http/clock";
import { Channel } from "~/core/clearance/case";
import type { LetterKind } from "~/core/clearance/letter";
import { Language } from "~/core/clearance/signOut";
import type { Hand, Store } from "~/store/database";
import { wayOfChannel } from "~/store/letters";

/** Reads what the page chose for each donor, and writes to them. @returns how many letters, or what is wrong */
export function askThem(store: Store, kind: LetterKind, form: FormData, hand: Hand): number | string {
  const chosen = new Set(form.getAll("donor").map(String));
  if (chosen.size === 0) return "Tick at least one donor";
  const orders = [];
  for (const [i, name] of form.getAll("name").map(String).entries()) {
    if (!chosen.has(name)) continue;
    const language = Language.safeParse(form.get(`language.${i}`));
    const channel = Channel.safeParse(form.get(`channel.${i}`));
    if (!language.success || !channel.success) return `${name}: choose a language and a way to reach them`;
    orders.push({
      kind,
      donor: name,
      language: language.data,
      plain: form.get(`plain.${i}`) === "yes",
      held: new Set(form.getAll(`held.${i}`).map(String)),
      channel: channel.data,
      how: wayOfChannel(channel.data),
    });
  }
  const groups = new Map(askGroups(store, kind, now(store)).map((g) => [g.donor.name, g]));
  const unreachable = orders.filter((o) => o.channel === "email" && groups.get(o.donor)?.donor.email === "");
  if (unreachable.length)
    return `${unreachable.map((o) => o.donor).join(", ")}: no e-mail address is written down. Write it on the donor's page, or choose another way. Nothing was sent`;
  const sent = sendLetters(store, kind, orders, hand);
  return typeof sent === "string" ? sent : sent.length;
}
