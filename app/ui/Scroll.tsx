import type { ReactNode } from "react";

/** A frame that scrolls sideways by itself where its table or chart is wider than the page; the keyboard reaches it. */
export function Scroll({
  label,
  className = "",
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a frame that scrolls must be reachable by keyboard.
    <section aria-label={label} tabIndex={0} className={`overflow-x-auto ${className}`}>
      {children}
    </section>
  );
}
