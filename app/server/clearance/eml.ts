import MailComposer from "nodemailer/lib/mail-composer";
import { oneLine } from "~/core/clearance/letter";

export interface Mail {
  readonly from: { readonly name: string; readonly address: string };
  readonly to: { readonly name: string; readonly address: string };
  readonly subject: string;
  readonly body: string;
  /** When it was written, as a date-time. */
  readonly at: string;
  readonly language: string;
}

/**
 * A letter as a mail file that every mail program opens as a draft.
 *
 * Names and subject are made one line each before they become headers, so that a donor's name can't begin another header.
 *
 * @source RFC 5322 (Internet Message Format), RFC 2047 (non-ASCII in headers)
 */
export async function writeEml(mail: Mail): Promise<Buffer> {
  const composer = new MailComposer({
    from: { name: oneLine(mail.from.name), address: oneLine(mail.from.address) },
    to: mail.to.address ? { name: oneLine(mail.to.name), address: oneLine(mail.to.address) } : undefined,
    subject: oneLine(mail.subject),
    text: mail.body,
    date: new Date(mail.at),
    headers: { "X-Unsent": "1", "Content-Language": mail.language },
    textEncoding: "quoted-printable",
    newline: "windows",
  });
  return composer.compile().build();
}
