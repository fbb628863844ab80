/** One field of a form as it was sent. */
export type SentField = { readonly label: string; readonly value: string };

let sent: readonly SentField[] = [];

/** What was written into the form that is just being sent, so that it is not lost with a page that fails. */
export function keepSent(event: SubmitEvent) {
  const form = event.target;
  if (!(form instanceof HTMLFormElement) || form.method !== "post") return;
  sent = [...form.elements].flatMap((field) => {
    if (!isWritten(field)) return [];
    const label = field.labels?.[0];
    const words = label?.querySelector(".label") ?? label;
    return [{ label: (words?.textContent ?? field.name).trim(), value: field.value }];
  });
}

/** Fields that hold what somebody may have written; passwords are kept nowhere. */
const isWritten = (field: Element): field is HTMLInputElement | HTMLTextAreaElement =>
  (field instanceof HTMLTextAreaElement ||
    (field instanceof HTMLInputElement && !/^(hidden|password|file|submit|button|checkbox|radio)$/.test(field.type))) &&
  field.value !== "";

export const forgetSent = () => {
  sent = [];
};

export const lastSent = (): readonly SentField[] => sent;
