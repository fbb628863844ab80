import { redirect as toAddress } from "react-router";
import { asking } from "./asking";

/**
 * Leads on to another page of the lane, and to nowhere else: an address that would leave it leads to the start.
 *
 * @param to a path, with query and place
 * @source OWASP Unvalidated Redirects and Forwards Cheat Sheet
 */
export function leadOn(to: string, init?: ResponseInit): Response {
  const inside = isInside(to) ? to : "/";
  const here = asking.getStore();
  if (here) here.leadsTo = inside;
  return toAddress(inside, init);
}

/** Whether a browser would stay in the lane: "//host" and "/\host" are addresses of another site. */
export const isInside = (to: string): boolean => {
  if (!/^\/(?![/\\])/.test(to)) return false;
  // biome-ignore lint/suspicious/noControlCharactersInRegex: browsers drop them, and what is left may be another site.
  return !/[\0-\x1f\x7f\\]/.test(to);
};
