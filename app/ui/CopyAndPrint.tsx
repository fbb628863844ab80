import { Copy, Printer } from "lucide-react";
import { useState } from "react";

/** A letter goes out by other programs as well: its text to the clipboard, or on paper. */
export function CopyAndPrint({ subject, body }: { readonly subject: string; readonly body: string }) {
  const [copied, setCopied] = useState(false);
  const copy = () =>
    navigator.clipboard.writeText(`${subject}\n\n${body}`).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  return (
    <>
      <button type="button" className="btn" onClick={copy}>
        <Copy size={16} aria-hidden="true" /> {copied ? "Copied" : "Copy"}
      </button>
      <button type="button" className="btn" onClick={() => window.print()}>
        <Printer size={16} aria-hidden="true" /> Print
      </button>
    </>
  );
}
