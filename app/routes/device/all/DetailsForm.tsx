import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";

interface Own {
  readonly donor: string;
  readonly need: string | null;
  readonly serial: string | null;
  readonly imei: string | null;
  readonly version: number;
}

/** The device's own row. Identity numbers can be edited only while they are shown whole. */
export function DetailsForm({
  standing,
  needs,
  whole,
  kept,
}: {
  standing: Own;
  needs: readonly { value: string; text: string }[];
  whole: boolean;
  kept: Readonly<Record<string, string>> | null;
}) {
  return (
    <Form method="post" className="space-y-2" key={standing.version} preventScrollReset>
      <input type="hidden" name="form" value="details" />
      <input type="hidden" name="version" value={standing.version} />
      <TextField label="Donor" name="donor" defaultValue={kept?.donor ?? standing.donor} maxLength={120} />
      <ChoiceField
        label="For which need"
        name="need"
        defaultValue={kept?.need ?? standing.need ?? ""}
        options={[{ value: "", text: "not decided" }, ...needs]}
      />
      {whole && (
        <>
          <TextField
            label="Serial number"
            name="serial"
            defaultValue={kept?.serial ?? standing.serial ?? ""}
            maxLength={60}
          />
          <TextField label="IMEI" name="imei" defaultValue={kept?.imei ?? standing.imei ?? ""} maxLength={20} />
        </>
      )}
      <button type="submit" className="btn">
        Save details
      </button>
    </Form>
  );
}
