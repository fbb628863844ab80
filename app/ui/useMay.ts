import { type To, useLocation, useRouteLoaderData } from "react-router";
import { patternOf } from "~/core/access/patternOf";
import { mayDo, type Role } from "~/core/access/roles";

/**
 * Whether whoever is signed in may read a page or change something with it, so that nothing is offered that would be refused.
 * What is not known to be a page of the lane is offered.
 */
export function useMay(): (method: "GET" | "POST", to?: To) => boolean {
  const { role } = (useRouteLoaderData("root") ?? {}) as { readonly role?: Role };
  const { pathname } = useLocation();
  return (method, to) => {
    // Most are coordinators, who may do everything: a page with a thousand links is not looked up a thousand times.
    if (role === undefined || role === "coordinator") return true;
    const path = typeof to === "string" && !to.startsWith("?") && !to.startsWith("#") && to !== "" ? to : pathname;
    const pattern = patternOf(typeof to === "object" ? (to.pathname ?? pathname) : path);
    return pattern === null || mayDo(role, method, pattern);
  };
}
