/** Most that is read away of an upload that is refused, bytes. */
const MOST = 500_000_000;

/** Reads an upload away without keeping it: a browser shows the answer only when it could send everything. */
export async function discardBody(request: Request): Promise<void> {
  const reader = request.body?.getReader();
  for (let bytes = 0; reader && bytes < MOST; ) {
    const { done, value } = await reader.read();
    if (done) return;
    bytes += value.length;
  }
  await reader?.cancel();
}
