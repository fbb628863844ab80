const escaped = (text: string) =>
  text.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c] ?? c);

/** A page in one sentence, for what is refused before the application is asked. */
export const plainPage = (says: string): string => `<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Upshift Lane: this was not let in</title>
<h1>This was not let in</h1>
<p>${escaped(says)}.</p>
<p><a href="/">Back to the lane</a></p>
</html>
`;
