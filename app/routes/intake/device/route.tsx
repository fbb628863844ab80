import { getFormProps, getInputProps, useForm } from "@conform-to/react";
import { parseWithZod } from "@conform-to/zod/v4";
import { z } from "zod";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { whoElseHas } from "~/app/server/intake/whoElse";
import { catalogueOf } from "~/app/server/planning/planning";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { DANGERS, DangerKind } from "~/core/device/danger";
import type { FactKey } from "~/core/device/fact";
import { FACTS, readFactValue } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";
import { isNoNumber } from "~/core/device/serial";
import { isTag } from "~/core/lists/deviceList";
import { setAside } from "~/store/aside";
import { addDevices, findBatch, listBatches, tagsInUse } from "~/store/devices";
import type { Route } from "./+types/route";

const TYPED = [
  "model.name",
  "model.number",
  "android.release",
  "build.number",
  "build.patch",
  "firmware.version",
  "battery.percent",
] as const satisfies readonly FactKey[];
const fieldOf = (key: FactKey) => key.replace(".", "_");

const fact = (key: FactKey) =>
  z
    .string()
    .trim()
    .optional()
    .superRefine((value, ctx) => {
      if (!value) return;
      const read = readFactValue(key, value);
      if (!read.ok) ctx.addIssue({ code: "custom", message: read.says });
    });

const NewDevice = z.object({
  batch: z.string({ error: "Choose a batch" }).min(1, "Choose a batch"),
  tag: z
    .string({ error: "Every device needs its tag" })
    .trim()
    .refine(isTag, "A tag has 1 to 24 letters, digits and dashes"),
  serial: z.string().trim().max(60).optional(),
  imei: z
    .string()
    .trim()
    .optional()
    .superRefine((value, ctx) => {
      const read = value ? readImei(value) : null;
      if (read && !read.ok) ctx.addIssue({ code: "custom", message: read.says });
    }),
  donor: z.string().trim().max(120).optional(),
  need: z.string().optional(),
  danger: DangerKind.optional(),
  ...(Object.fromEntries(TYPED.map((key) => [fieldOf(key), fact(key)])) as Record<string, ReturnType<typeof fact>>),
});

export function loader({ request }: Route.LoaderArgs) {
  const batches = listBatches(db());
  return {
    batches: batches.map((b) => ({ value: b.id, text: b.title })),
    batch: new URL(request.url).searchParams.get("batch") ?? batches[0]?.id ?? "",
    needs: catalogueOf(db()).needs.map((n) => ({ value: n.id, text: n.name })),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const submission = parseWithZod(await readForm(request), { schema: NewDevice });
  if (submission.status !== "success") return submission.reply();
  const value = submission.value as z.infer<typeof NewDevice> & Record<string, string | undefined>;
  if (!findBatch(db(), value.batch))
    return submission.reply({ fieldErrors: { batch: ["There is no such batch. Make one at Intake"] } });
  if (tagsInUse(db()).has(value.tag.toLowerCase()))
    return submission.reply({ fieldErrors: { tag: [`Tag ${value.tag} is in use already`] } });
  const hand = handOf(request);
  const facts = TYPED.flatMap((key) => {
    const raw = value[fieldOf(key)];
    const read = raw ? readFactValue(key, raw) : null;
    return read?.ok ? [{ key, value: read.value, source: "typed" as const, at: hand.at, by: hand.by }] : [];
  });
  const read = value.imei ? readImei(value.imei) : null;
  const imei = read?.ok ? read.imei : null;
  const serial = value.serial && !isNoNumber(value.serial) ? value.serial : null;
  const other = whoElseHas(db(), { serial, imei }, null);
  if (other.is === "here") return submission.reply({ fieldErrors: { [other.which]: [other.says] } });
  addDevices(
    db(),
    value.batch,
    [
      {
        tag: value.tag,
        serial,
        imei,
        returns: other.is === "left" ? other.earlier.device : null,
        donor: value.donor ?? "",
        need: value.need || null,
        facts,
      },
    ],
    hand,
  );
  if (value.danger) {
    setAside(db(), value.tag, value.danger, "Seen at arrival", hand);
    return leadOn(`/aside?done=${encodeURIComponent(`${value.tag} is set aside`)}`);
  }
  return leadOn(`/devices/${value.tag}`);
}

export default function IntakeDevice({ loaderData, actionData }: Route.ComponentProps) {
  const { batches, batch, needs } = loaderData;
  const [form, fields] = useForm({
    lastResult: actionData,
    defaultValue: { batch },
    onValidate: ({ formData }) => parseWithZod(formData, { schema: NewDevice }),
    // As it is typed: a message that goes away on leaving the field would move the button from under the pointer.
    shouldRevalidate: "onInput",
  });
  const props = (name: keyof typeof fields) => {
    // The field has its own label and error text: only name, value and constraints are taken from the form library.
    const { name: field, defaultValue, required, maxLength } = getInputProps(fields[name], { type: "text" });
    return { name: field, defaultValue, required, maxLength, wrong: fields[name].errors?.[0] };
  };
  return (
    <>
      <title>Take in one device · Upshift Lane</title>
      <h1>Take in one device</h1>
      {form.status === "error" && <Notice kind="wrong">Some fields need another look. Nothing was saved yet.</Notice>}
      <Form
        method="post"
        {...getFormProps(form)}
        className="sheet mt-3 grid grid-cols-[minmax(0,1fr)] max-w-4xl gap-3 sm:grid-cols-2"
      >
        <ChoiceField
          label="Batch"
          name="batch"
          defaultValue={batch}
          options={batches}
          wrong={fields.batch.errors?.[0]}
        />
        <TextField label="Tag" {...props("tag")} required hint="What stands on the label" />
        <TextField label="Serial number" {...props("serial")} />
        <TextField label="IMEI" {...props("imei")} inputMode="numeric" hint="Phones: dial *#06#" />
        <TextField label="Donor" {...props("donor")} />
        <ChoiceField label="For which need" name="need" options={[{ value: "", text: "not decided" }, ...needs]} />
        <ChoiceField
          label="Anything dangerous?"
          name="danger"
          options={[
            { value: "", text: "nothing seen" },
            ...DangerKind.options.filter((k) => k !== "lost").map((k) => ({ value: k, text: DANGERS[k].says })),
          ]}
          hint="It is set aside at once and not charged"
        />
        {TYPED.map((key) => (
          <TextField
            key={key}
            label={FACTS[key].says}
            hint={FACTS[key].ask}
            {...props(fieldOf(key) as keyof typeof fields)}
          />
        ))}
        <div className="sm:col-span-2">
          <button type="submit" className="btn-main">
            Take it in
          </button>
        </div>
      </Form>
    </>
  );
}
