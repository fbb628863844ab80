/** Where a page of a long list begins, as its address says (?from=): a whole page, and one that there is. */
export function pageFrom(request: Request, of: number, size: number): number {
  const asked = Math.trunc(Number(new URL(request.url).searchParams.get("from")));
  if (!Number.isFinite(asked) || asked <= 0) return 0;
  const last = Math.max(0, Math.ceil(of / size) - 1) * size;
  return Math.min(Math.floor(asked / size) * size, last);
}
