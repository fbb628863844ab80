import { type LinkProps, Link as RouterLink } from "react-router";
import { useMay } from "./useMay";

/**
 * A link of the lane. Where somebody may not read the page it leads to, its words stand there as words; a button that leads
 * there is left out, and so is one of a row of links (`app.css`). The server refuses all the same.
 */
export function Link(props: LinkProps) {
  const may = useMay();
  if (may("GET", props.to)) return <RouterLink {...props} />;
  return props.className?.includes("btn") ? null : (
    <span className={`${props.className ?? ""} no-way`}>{props.children}</span>
  );
}
