/** The steps around the one at hand: two that are done, the next ones to come. */
export function StepRail({ titles, place }: { titles: readonly string[]; place: number }) {
  const from = Math.max(0, place - 2);
  const to = Math.min(titles.length, place + 9);
  return (
    <aside aria-label="Steps around this one" className="hidden xl:block">
      <ol start={from + 1} className="space-y-1 border-l-[3px] border-lane pl-3 text-sm">
        {titles.slice(from, to).map((title, i) => {
          const at = from + i;
          return (
            <li
              key={at}
              aria-current={at === place ? "step" : undefined}
              className={
                at === place ? "font-bold" : at < place ? "text-soft line-through decoration-rule" : "text-soft"
              }
            >
              {at + 1}. {title}
            </li>
          );
        })}
      </ol>
      {to < titles.length && <p className="hint mt-2">and {titles.length - to} more</p>}
    </aside>
  );
}
