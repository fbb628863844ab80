import type { AskGroup } from "~/app/server/clearance/letters";
import { Link } from "~/app/ui/Link";
import { CHANNEL_WORDS, Channel } from "~/core/clearance/case";
import { LANGUAGE_WORDS, Language } from "~/core/clearance/signOut";

/** What is chosen for one donor. */
export interface Choice {
  readonly on: boolean;
  readonly channel: string;
  readonly language: string;
  readonly plain: boolean;
  readonly held: readonly string[];
}

interface Props {
  readonly group: AskGroup;
  readonly place: number;
  readonly choice: Choice;
  readonly shown: boolean;
  readonly change: (next: Partial<Choice>) => void;
  readonly look: () => void;
}

/** One donor: whether to write, how, in which language, and which devices they still hold. */
export function DonorRow({ group, place, choice, shown, change, look }: Props) {
  const { donor, devices } = group;
  return (
    <tr className={shown ? "bg-lane-wash" : undefined} onFocus={look} onClick={look}>
      <td>
        <input type="hidden" name="name" value={donor.name} />
        <label className="flex items-start gap-2 font-bold">
          <input
            type="checkbox"
            name="donor"
            value={donor.name}
            checked={choice.on}
            onChange={(e) => change({ on: e.target.checked })}
            className="mt-1.5"
          />
          <span>{donor.name}</span>
        </label>
        <Link to={`/donors/${encodeURIComponent(donor.name)}`} className="ml-6 text-sm">
          {donor.email || donor.phone || "contact"}
        </Link>
        {choice.channel === "email" && !donor.email && <p className="wrong ml-6">no e-mail address</p>}
      </td>
      <td>
        {devices.map((d) => (
          <p key={d.tag}>
            <span className="whitespace-nowrap font-bold">{d.tag}</span> {d.name}
            <label className="hint ml-2 inline-flex items-center gap-1 whitespace-nowrap">
              <input
                type="checkbox"
                name={`held.${place}`}
                value={d.tag}
                checked={choice.held.includes(d.tag)}
                onChange={(e) =>
                  change({
                    held: e.target.checked ? [...choice.held, d.tag] : choice.held.filter((tag) => tag !== d.tag),
                  })
                }
              />
              donor has it
            </label>
          </p>
        ))}
      </td>
      <td>
        <select
          name={`channel.${place}`}
          aria-label={`How to reach ${donor.name}`}
          value={choice.channel}
          onChange={(e) => change({ channel: e.target.value })}
          className="field"
        >
          {Channel.options.map((c) => (
            <option key={c} value={c}>
              {CHANNEL_WORDS[c]}
            </option>
          ))}
        </select>
      </td>
      <td>
        <select
          name={`language.${place}`}
          aria-label={`Language for ${donor.name}`}
          value={choice.language}
          onChange={(e) => change({ language: e.target.value })}
          className="field min-w-28"
        >
          {Language.options.map((l) => (
            <option key={l} value={l}>
              {LANGUAGE_WORDS[l]}
            </option>
          ))}
        </select>
        <label className="hint mt-1 flex items-center gap-1">
          <input
            type="checkbox"
            name={`plain.${place}`}
            value="yes"
            checked={choice.plain}
            onChange={(e) => change({ plain: e.target.checked })}
          />
          plain
        </label>
      </td>
    </tr>
  );
}
