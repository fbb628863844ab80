import { index, type RouteConfig, route } from "@react-router/dev/routes";

// In the order of the work; then the library; then what other programs read.
export default [
  index("routes/today/route.tsx"),
  route("intake", "routes/intake/route.tsx"),
  route("intake/list", "routes/intake-list/route.tsx"),
  route("intake/device", "routes/intake-device/route.tsx"),
  route("clearance", "routes/clearance/route.tsx"),
  route("clearance/:tag", "routes/clearance-case/route.tsx"),
  route("match", "routes/match/route.tsx"),
  route("match/:model", "routes/match-group/route.tsx"),
  route("devices/:tag", "routes/device/route.tsx"),
  route("devices/:tag/ways", "routes/device-ways/route.tsx"),
  route("bench", "routes/bench/route.tsx"),
  route("bench/:tag", "routes/bench-run/route.tsx"),
  route("checkout", "routes/checkout/route.tsx"),
  route("checkout/:tag", "routes/checkout-device/route.tsx"),
  route("records", "routes/records/route.tsx"),
  route("records.csv", "routes/records/csv.ts"),

  route("models", "routes/models/route.tsx"),
  route("models/:id", "routes/model/route.tsx"),
  route("images", "routes/images/route.tsx"),
  route("images/:id", "routes/image/route.tsx"),
  route("floors", "routes/floors/route.tsx"),
  route("floors/:id", "routes/floor/route.tsx"),
  route("catalogue", "routes/catalogue/route.tsx"),
  route("catalogue.json", "routes/catalogue/json.ts"),
  route("policy", "routes/policy/route.tsx"),
  route("search", "routes/search/route.tsx"),
  route("person", "routes/person/route.tsx"),

  route("batches/:batch/plan.json", "routes/outside/plan.ts"),
  route("devices/:tag/runbook.json", "routes/outside/runbook-json.ts"),
  route("devices/:tag/runbook.md", "routes/outside/runbook-md.ts"),
  route("devices/:tag/runbook.sh", "routes/outside/runbook-sh.ts"),
  route("*", "routes/nowhere/route.tsx"),
] satisfies RouteConfig;
