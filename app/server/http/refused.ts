/** An answer that refuses, in words; the page around it is the lane's own. */
export function refused(status: number, says: string): Response {
  return new Response(says, { status, headers: { "content-type": "text/plain; charset=utf-8" } });
}
